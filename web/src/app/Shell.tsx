import { UnstyledButton, useMantineColorScheme } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { TODAY } from "@/api/asked";
import { waitingIn } from "@/api/outbox";
import { Link, NavLink } from "@/ui/routing";
import { useArrivals } from "@/ui/useArrivals";
import { useOutbox } from "@/ui/useOutbox";
import { useToday } from "@/ui/useToday";
import { ClockBanner } from "./ClockBanner";
import { NewerBanner } from "./NewerBanner";
import { OldBanner } from "./OldBanner";
import { PageGuard } from "./PageGuard";
import styles from "./Shell.module.css";

const DATE = new Intl.DateTimeFormat(undefined, {
	weekday: "short",
	day: "numeric",
	month: "long",
});

/** The printed card every page stands on: the name, the sections, a double rule. */
export function Shell({ pathname, children }: { pathname: string; children: React.ReactNode }) {
	const { colorScheme, setColorScheme } = useMantineColorScheme();
	const isNight = colorScheme === "dark";
	const outbox = useOutbox();
	const today = useToday();
	useArrivals();
	const waiting = waitingIn(outbox);
	const due = useDue();
	const inTrials = pathname.startsWith("/trials");
	return (
		<>
			<a className={styles.skip} href="#page">
				Skip to content
			</a>
			<header className={styles.header}>
				<div className={styles.row}>
					<Link to="/" className={styles.name}>
						Racecard
					</Link>
					<nav aria-label="Main navigation" className={styles.sections}>
						<NavLink to="/" end className={styles.section}>
							Today
							{due > 0 && (
								<span className={styles.due}>
									{due}
									<span className="visually-hidden"> due</span>
								</span>
							)}
						</NavLink>
						<NavLink
							to="/trials"
							className={styles.section}
							aria-current={inTrials ? "page" : undefined}
						>
							Trials
						</NavLink>
						<NavLink to="/mixing" className={styles.section}>
							Mixing
						</NavLink>
						<NavLink to="/dry-run" className={styles.section}>
							Dry run
						</NavLink>
						<NavLink to="/form-book" className={`${styles.section} ${styles.desk}`}>
							Form book
						</NavLink>
						<NavLink to="/library" className={`${styles.section} ${styles.desk}`}>
							Library
						</NavLink>
					</nav>
					{(waiting > 0 || outbox.refused.length > 0) && (
						<span className={styles.waiting}>
							{waiting > 0 ? `${waiting} waiting to send` : `${outbox.refused.length} refused`}
						</span>
					)}
					<Link to="/shed" className={styles.phones}>
						Phones
					</Link>
					<span className={styles.date}>{DATE.format(new Date(`${today}T12:00`))}</span>
					<UnstyledButton
						className={styles.night}
						aria-pressed={isNight}
						onClick={() => setColorScheme(isNight ? "light" : "dark")}
					>
						Dark<span className={styles.shed}> theme</span>
					</UnstyledButton>
				</div>
			</header>
			<main id="page" className={styles.main}>
				<ClockBanner />
				<NewerBanner />
				<OldBanner inRound={/\/rounds\/\d/.test(pathname)} />
				<PageGuard key={pathname}>{children}</PageGuard>
			</main>
			<footer className={`${styles.footer} no-print`}>
				<Link to="/form-book">Form book</Link>
				<Link to="/library">Library</Link>
				<Link to="/glossary">Glossary</Link>
			</footer>
		</>
	);
}

/** How many things are due or overdue now: the reminder beside Today and in the page's title. */
function useDue(): number {
	const { data } = useQuery(TODAY);
	const due = (data ?? []).filter((t) => t.state === "due" || t.state === "overdue").length;
	useEffect(() => {
		document.title = due > 0 ? `(${due}) Racecard` : "Racecard";
		// on the home screen the icon bears the number; a browser that cannot is not told
		const icon = navigator as Partial<Pick<Navigator, "setAppBadge">>;
		void icon.setAppBadge?.(due).catch(() => {});
	}, [due]);
	return due;
}
