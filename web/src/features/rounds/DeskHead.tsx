import { UnstyledButton } from "@mantine/core";
import type { Round, Trial } from "@/api/client";
import { dateOfDay } from "@/core/text";
import { sidesSay } from "@/core/words";
import type { Mode } from "./desk";
import styles from "./Rounds.module.css";
import { hasRoots } from "./round";
import type { DeskInUse } from "./useDesk";

const MODES: Record<Mode, string> = {
	look: "Looks",
	lift: "Lift and score",
	second: "Second scorer",
};

export interface DeskHeadProps {
	trial: Trial;
	round: Round;
	desk: DeskInUse;
}

/** Which round it is, what is entered in it, and what it asks for beside the looks. */
export function DeskHead({ trial, round, desk }: DeskHeadProps) {
	const { plan } = trial;
	const more: readonly Mode[] = desk.isCounting ? ["lift"] : ["lift", "second"];
	const modes: readonly Mode[] = hasRoots(plan) ? ["look", ...more] : ["look"];
	const due = round.units.filter((u) => u.lift && !u.gone);
	return (
		<>
			<div className={styles.head}>
				<h2>
					Round of day {round.day}
					{trial.started_on ? `, ${dateOfDay(trial.started_on, round.day)}` : ""}
				</h2>
				<span className="muted">
					{sidesSay(plan.sides)}
					{plan.blind ? " · scored blind" : ""}
				</span>
				{round.stamp && <span className={styles.past}>past round</span>}
				{modes.length > 1 && (
					<div className={styles.modes} role="group" aria-label="Entries">
						{modes.map((m) => (
							<UnstyledButton
								key={m}
								aria-pressed={desk.mode === m}
								onClick={() => desk.chooseMode(m)}
							>
								{MODES[m]}
							</UnstyledButton>
						))}
					</div>
				)}
			</div>
			{round.missed_says && <p className={styles.cost}>{round.missed_says}</p>}
			{due.length > 0 && desk.mode === "look" && (
				<p className={styles.cost}>
					To lift today, chosen at random: {due.map((u) => u.cell.code).join(", ")}. Enter the
					stage, then “Removed”; they leave the trial.
				</p>
			)}
		</>
	);
}
