import { useMantineColorScheme } from "@mantine/core";
import { Link, NavLink, Outlet, useLocation } from "react-router";
import styles from "./Shell.module.css";

const TODAY = new Intl.DateTimeFormat(undefined, {
	weekday: "short",
	day: "numeric",
	month: "long",
});

/** The printed card every page stands on: the name, the sections, a double rule. */
export function Shell() {
	const { colorScheme, setColorScheme } = useMantineColorScheme();
	const isNight = colorScheme === "dark";
	const inTrials = useLocation().pathname.startsWith("/trials");
	return (
		<>
			<a className={styles.skip} href="#page">
				Skip to the page
			</a>
			<header className={styles.header}>
				<div className={styles.row}>
					<Link to="/" className={styles.name}>
						Racecard
					</Link>
					<nav aria-label="Sections" className={styles.sections}>
						<NavLink to="/" end className={styles.section}>
							Today
						</NavLink>
						<NavLink
							to="/trials"
							className={styles.section}
							aria-current={inTrials ? "page" : undefined}
						>
							Trials
						</NavLink>
						<NavLink to="/mixing" className={styles.section}>
							Mixing bench
						</NavLink>
					</nav>
					<span className={styles.date}>{TODAY.format(new Date())}</span>
					<button
						type="button"
						className={styles.night}
						aria-pressed={isNight}
						onClick={() => setColorScheme(isNight ? "light" : "dark")}
					>
						Night<span className={styles.shed}> shed</span>
					</button>
				</div>
			</header>
			<main id="page" className={styles.main}>
				<Outlet />
			</main>
		</>
	);
}

export function NothingHere() {
	return (
		<>
			<h1>Nothing stands here</h1>
			<p>
				That address leads nowhere. Go back to <Link to="/">Today</Link>.
			</p>
		</>
	);
}
