import type { ReactNode } from "react";
import type { Schemas } from "@/api/client";
import { points } from "@/core/text";
import { Card } from "@/ui/Card";
import { spanOfTens } from "@/ui/chart/scale";
import { GapAxis, GapRow } from "@/ui/finish/GapRow";
import styles from "./Series.module.css";

type Arm = Schemas["SeriesArm"];
type Gap = { estimate: number; low: number | null; high: number | null };

/** One treatment: each run, the runs together, further runs and the next; then how the evidence grew. */
export function RunsForest({ arm, control }: { arm: Arm; control: string }) {
	const further = gapOf(arm.further);
	const next = arm.next_run && {
		estimate: arm.further?.[0] ?? 0,
		low: arm.next_run[0] ?? null,
		high: arm.next_run[1] ?? null,
	};
	const every = [
		...arm.runs.map((r) => r.gap),
		arm.gap,
		further,
		next,
		...arm.course.map((u) => u.gap),
	];
	const span = spanOfTens(
		every
			.flatMap((g) => [g?.low, g?.high, g?.estimate])
			.filter((v): v is number => v != null)
			.map((v) => 100 * v),
	);
	const row = (
		key: string,
		name: ReactNode,
		gap: Gap | null,
		said: string,
		isSum = false,
		isFuture = false,
	) => (
		<GapRow
			key={key}
			name={name}
			gap={gap}
			span={span}
			said={gap ? `${said}: ${range(gap)}` : `${said}: no comparison`}
			hollow={isSum}
		>
			{gap ? (isFuture ? ends(gap) : points(gap.estimate)) : "no comparison"}
		</GapRow>
	);
	return (
		<Card
			title={`${arm.treatment} against ${control}: ${arm.grade_words}`}
			aside="difference in points, 95 % confidence interval"
			picture="runs"
			className={styles.card}
		>
			<ul className={styles.says}>
				{arm.says.map((s) => (
					<li key={s}>{s}</li>
				))}
			</ul>
			<h3>Run by run</h3>
			{arm.runs.map((r) =>
				row(
					r.run,
					<span>
						{r.run}{" "}
						<span className="muted">
							({r.treated} and {r.control})
						</span>
					</span>,
					r.gap,
					r.run,
				),
			)}
			{row("all", <strong>These runs together</strong>, arm.gap, "These runs together", true)}
			{further &&
				row("further", "Further runs like these", further, "Further runs like these", true, true)}
			{next && row("next", "The next single run", next, "The next single run", true, true)}
			<GapAxis span={span} />
			<h3>How the evidence grew</h3>
			{arm.course.map((u, i) =>
				row(`up to ${u.run}`, i === 0 ? u.run : `and ${u.run}`, u.gap, `Up to ${u.run}`, i > 0),
			)}
			<GapAxis span={span} />
		</Card>
	);
}

const gapOf = (told: number[] | null): Gap | null =>
	told && { estimate: told[0] ?? 0, low: told[1] ?? null, high: told[2] ?? null };

const range = (g: Gap): string =>
	g.low === null || g.high === null
		? points(g.estimate)
		: `${points(g.estimate)}, from ${points(g.low)} to ${points(g.high)}`;

/** The ends alone: of runs to come nobody knows the middle better. */
const ends = (g: Gap): string => `${points(g.low ?? 0).split(" ")[0]} to ${points(g.high ?? 0)}`;
