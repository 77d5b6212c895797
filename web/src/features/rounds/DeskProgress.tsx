import type { Plan, Round } from "@/api/client";
import styles from "./Rounds.module.css";
import { tally } from "./round";

export interface DeskProgressProps {
	round: Round;
	endpoint: Plan["endpoint"];
	isCounting: boolean;
}

/** How far the round is, and how many are new since the last one. */
export function DeskProgress({ round, endpoint, isCounting }: DeskProgressProps) {
	const { seen, due, fresh } = tally(round, endpoint);
	return (
		<div className={styles.foot}>
			<strong>
				{seen} of {due} {isCounting ? "pots" : "units"} looked at
			</strong>
			<div
				className={styles.bar}
				role="progressbar"
				aria-label="Looked at"
				aria-valuemin={0}
				aria-valuemax={due}
				aria-valuenow={seen}
			>
				<div style={{ width: `${due ? (100 * seen) / due : 0}%` }} />
			</div>
			<span className={styles.fresh}>
				{fresh} new{round.previous_day === null ? "" : ` since day ${round.previous_day}`}
			</span>
		</div>
	);
}
