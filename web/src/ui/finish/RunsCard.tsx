import type { Finish, Schemas } from "@/api/client";
import { decimal, points } from "@/core/text";
import { Card } from "@/ui/Card";
import { spanOfTens } from "@/ui/chart/scale";
import { Why } from "@/ui/Why";
import styles from "./Beside.module.css";
import finishStyles from "./Finish.module.css";
import { GapAxis, GapRow } from "./GapRow";

/** Runs of one plan: each beside the others, the gap over all below them. */
export function RunsCard({ finish }: { finish: Finish }) {
	if (finish.runs.length === 0) return null;
	return (
		<div className={finishStyles.below}>
			{finish.runs.map((r) => (
				<OneRuns key={r.treatment} runs={r} finish={finish} />
			))}
		</div>
	);
}

function OneRuns({ runs, finish }: { runs: Schemas["RunsOut"]; finish: Finish }) {
	const lane = finish.lanes.find((l) => l.treatment === runs.treatment);
	const all = finish.comparisons.find((c) => c.treatment === runs.treatment)?.gap ?? null;
	const ends = [...runs.runs.map((r) => r.gap), all].flatMap((g) => [g?.low, g?.high, g?.estimate]);
	const span = spanOfTens(ends.filter((v): v is number => v != null).map((v) => 100 * v));
	const differ = runs.q_p !== null && runs.q_p < 0.1;
	return (
		<Card title={`Run by run: ${lane?.name}`} aside="difference from control, points">
			<div className={styles.forest}>
				{runs.runs.map((r) => (
					<GapRow
						key={r.run}
						name={
							<>
								{r.run}
								<span className="muted">
									{" "}
									({r.treated} and {r.control})
								</span>
							</>
						}
						gap={r.gap}
						span={span}
						said={
							r.gap ? `${r.run}: ${points(r.gap.estimate)}` : `${r.run}: a treatment is missing`
						}
					>
						{r.gap ? points(r.gap.estimate) : "no comparison"}
					</GapRow>
				))}
				<GapRow
					name={<strong>these runs combined</strong>}
					gap={all}
					span={span}
					said={all ? `Together: ${points(all.estimate)}` : "Combined: no difference available"}
					hollow
				>
					<strong>{all ? points(all.estimate) : "no gap"}</strong>
				</GapRow>
				<GapAxis span={span} />
			</div>
			<p className={styles.note}>
				<Why method="runs" label="Do the runs differ?" data={spreadOf(runs)}>
					{differ
						? "The runs differ more than chance explains."
						: "No sign that the runs differ beyond chance."}
				</Why>
			</p>
		</Card>
	);
}

/** What is known of how runs differ, and of further ones. */
function spreadOf(runs: Schemas["RunsOut"]): string {
	const said = [
		runs.q_p === null
			? "Too little data to tell whether they differ"
			: `If the runs did not differ, they would look this far apart ${decimal(100 * runs.q_p, 0)} times in 100.`,
	];
	if (runs.further)
		said.push(
			`Over further runs like these: ${points(runs.further[1] ?? 0)} to ${points(runs.further[2] ?? 0)}.`,
		);
	if (runs.next_run)
		said.push(
			`The next run: ${points(runs.next_run[0] ?? 0)} to ${points(runs.next_run[1] ?? 0)}.`,
		);
	return said.join(" ");
}
