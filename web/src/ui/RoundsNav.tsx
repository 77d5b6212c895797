import { NavLink } from "@/ui/routing";
import styles from "./RoundsNav.module.css";

const PARTS = [
	["rounds", "Tray"],
	["looks", "All looks"],
	["log", "Log"],
	["conditions", "Conditions"],
	["photos", "Photos"],
	["look-sheet", "Paper sheet"],
] as const;

/** The parts of Rounds: the bench itself, and what lies beside it. */
export function RoundsNav({ trialId }: { trialId: string }) {
	return (
		<nav className={`${styles.parts} no-print`} aria-label="Round sections">
			{PARTS.map(([to, name]) => (
				<NavLink key={to} to={`/trials/${trialId}/${to}`} className={styles.part}>
					{name}
				</NavLink>
			))}
		</nav>
	);
}
