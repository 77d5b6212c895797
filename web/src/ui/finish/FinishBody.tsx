import type { ReactNode } from "react";
import type { Finish } from "@/api/client";
import { Card } from "@/ui/Card";
import { StewardsNotes } from "@/ui/StewardsNotes";
import { AnswerCard } from "./AnswerCard";
import { CrossCard } from "./CrossCard";
import styles from "./Finish.module.css";
import { Forest } from "./Forest";
import { GrowthCard } from "./GrowthCard";
import { IndicesCard } from "./IndicesCard";
import { LadderCard } from "./LadderCard";
import { Lanes, type LanesProps } from "./Lanes";
import { PlacingsCard } from "./PlacingsCard";
import { Promised } from "./Promised";
import { RunsCard } from "./RunsCard";
import { ScoreCounts } from "./ScoreCounts";
import { TimesCard } from "./TimesCard";
import { TrayMap } from "./TrayMap";

export interface FinishBodyProps extends Omit<LanesProps, "finish"> {
	finish: Finish;
	/** Smallest difference that matters, points, to be shaded. */
	margin?: number | null;
	/** What stands at the sides of the bench. */
	sides?: readonly string[];
	/** Counts left more than one reading, so that no single answer is given. */
	isInBounds?: boolean;
	/** What stands between the verdict and the rest. */
	children?: ReactNode;
}

/** A judgement: headline, lanes, what it can say, stewards' notes, and everything beside it. */
export function FinishBody({
	finish,
	margin = null,
	sides,
	isInBounds = false,
	children,
	...lanes
}: FinishBodyProps) {
	return (
		<div className={styles.page}>
			{finish.answer && !isInBounds ? (
				<AnswerCard answer={finish.answer} />
			) : (
				<p className={styles.headline}>{finish.headline}</p>
			)}
			<Lanes finish={finish} {...lanes} />
			<div className={styles.below}>
				<Card title="How sure is that?">
					<ul className={styles.says}>
						{finish.answer && !isInBounds && <li>{finish.headline}</li>}
						{finish.says.map((s) => (
							<li key={s}>{s}</li>
						))}
					</ul>
				</Card>
				<StewardsNotes
					notes={finish.notes}
					none="No objections found. That does not mean there is no problem."
					checked={finish.checked}
				/>
			</div>
			<div className={styles.below}>
				<Forest finish={finish} margin={margin} />
				<PlacingsCard finish={finish} />
			</div>
			<LadderCard finish={finish} />
			<CrossCard finish={finish} />
			<RunsCard finish={finish} />
			{finish.timed && <TimesCard finish={finish} />}
			{finish.lanes.some((l) => l.score_counts) && <ScoreCounts finish={finish} />}
			<GrowthCard finish={finish} />
			{children}
			<TrayMap finish={finish} sides={sides} />
			<Promised finish={finish} />
			<IndicesCard finish={finish} />
		</div>
	);
}
