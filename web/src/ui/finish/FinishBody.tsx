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
import { type FinishPart, Parts } from "./Parts";
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
	/** What can be done about the answer. */
	act?: ReactNode;
	/** What stands right below the answer. */
	below?: ReactNode;
	/** Groups of treatments compared, where there are three treatments or more. */
	groups?: ReactNode;
	/** What stands between the verdict and the rest. */
	children?: ReactNode;
}

/** A judgement: headline, lanes, what it can say, stewards' notes, and everything beside it. */
export function FinishBody({
	finish,
	margin = null,
	sides,
	act,
	below,
	groups,
	children,
	...lanes
}: FinishBodyProps) {
	const gaps = (
		<>
			<div className={styles.below}>
				<Forest finish={finish} margin={margin} />
				<PlacingsCard finish={finish} />
			</div>
			<LadderCard finish={finish} />
			<CrossCard finish={finish} />
			<RunsCard finish={finish} />
		</>
	);
	const hasIndices = finish.lanes.some((l) => l.indices.length > 0);
	const isPromised =
		finish.predictions.length + finish.amended.length + finish.overruled.length > 0;
	const hasTray = finish.cells.length > 0 && finish.cells.length <= 2000;
	const parts: (FinishPart | false)[] = [
		{
			id: "lanes",
			title: "Plant by plant",
			folds: false,
			node: <Lanes finish={finish} {...lanes} />,
		},
		{
			id: "sure",
			title: "How sure is that?",
			folds: true,
			node: (
				<Card title="How sure is that?">
					<ul className={styles.says}>
						{finish.headline && <li>{finish.headline}</li>}
						{finish.says.map((s) => (
							<li key={s}>{s}</li>
						))}
					</ul>
				</Card>
			),
		},
		{
			id: "wrong",
			title: "What might be wrong",
			count: finish.notes.length,
			folds: false,
			node: (
				<StewardsNotes
					notes={finish.notes}
					none="No objections found. That does not mean there is no problem."
					checked={finish.checked}
				/>
			),
		},
		finish.comparisons.length > 0 && {
			id: "differences",
			title: "Differences and placings",
			folds: true,
			node: gaps,
		},
		groups !== undefined && {
			id: "groups",
			title: "Groups",
			folds: true,
			node: groups,
		},
		finish.timed && {
			id: "times",
			title: "Times",
			folds: true,
			node: <TimesCard finish={finish} />,
		},
		finish.lanes.some((l) => l.score_counts) && {
			id: "scores",
			title: "Root scores",
			folds: true,
			node: <ScoreCounts finish={finish} />,
		},
		finish.growth.length > 0 && {
			id: "growth",
			title: "Growth",
			folds: true,
			node: <GrowthCard finish={finish} />,
		},
		children !== undefined && {
			id: "beside",
			title: "Costs, conclusion, conditions",
			folds: true,
			node: children,
		},
		hasTray && {
			id: "tray",
			title: "Tray map",
			folds: true,
			node: <TrayMap finish={finish} sides={sides} />,
		},
		isPromised && {
			id: "promised",
			title: "Predictions and changes",
			folds: true,
			node: <Promised finish={finish} />,
		},
		hasIndices && {
			id: "indices",
			title: "Seed indices",
			folds: true,
			node: <IndicesCard finish={finish} />,
		},
	];
	return (
		<div className={styles.page}>
			{finish.answer && <AnswerCard answer={finish.answer}>{act}</AnswerCard>}
			{below}
			<Parts parts={parts.filter((p) => p !== false)} />
		</div>
	);
}
