import type { Finish, Schemas } from "@/api/client";
import { linear, marks, spanOfTens } from "@/core/scale";
import { decimal, points } from "@/core/text";
import { Card } from "@/ui/Card";
import { Why } from "@/ui/Why";
import styles from "./Beside.module.css";
import finishStyles from "./Finish.module.css";

const WIDTH = 260;
const ROW = 26;

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
	const all = finish.comparisons.find((c) => c.treatment === runs.treatment)?.gap;
	const rows = [
		...runs.runs.map((r) => ({
			name: r.run,
			gap: r.gap,
			n: `${r.treated} and ${r.control}`,
			all: false,
		})),
		{ name: "these runs together", gap: all ?? null, n: "", all: true },
	];
	const ends = rows.flatMap((r) => [r.gap?.low, r.gap?.high, r.gap?.estimate]);
	const span = spanOfTens(ends.filter((v): v is number => v != null).map((v) => 100 * v));
	const x = linear(span, [8, WIDTH - 8]);
	return (
		<Card title={`Run by run: ${lane?.name}`} aside="gap to the control in points">
			<div className={styles.forest}>
				{rows.map((r) => (
					<div key={r.name} className={styles.forestRow}>
						<span className={styles.arm}>
							{r.all ? <strong>{r.name}</strong> : r.name}
							{r.n && <span className="muted"> ({r.n})</span>}
						</span>
						<svg
							viewBox={`0 0 ${WIDTH} ${ROW}`}
							role="img"
							aria-label={
								r.gap ? `${r.name}: ${points(r.gap.estimate)}` : `${r.name}: an arm is missing`
							}
						>
							<line x1={x(0)} x2={x(0)} y1={0} y2={ROW} className={styles.zero} />
							{r.gap?.low != null && r.gap.high != null && (
								<line
									x1={x(100 * r.gap.low)}
									x2={x(100 * r.gap.high)}
									y1={ROW / 2}
									y2={ROW / 2}
									className={styles.range}
								/>
							)}
							{r.gap && (
								<path
									d={`M${x(100 * r.gap.estimate)} ${ROW / 2 - 6}l6 6l-6 6l-6 -6z`}
									className={r.all ? styles.hollow : styles.mark}
								/>
							)}
						</svg>
						<span className={styles.value}>{r.gap ? points(r.gap.estimate) : "no pair"}</span>
					</div>
				))}
				<div className={styles.forestRow}>
					<span />
					<svg viewBox={`0 0 ${WIDTH} 18`} aria-hidden>
						{marks(span).map((v) => (
							<text key={v} x={x(v)} y={13} textAnchor="middle" className={styles.tick}>
								{v > 0 ? `+${v}` : v < 0 ? `−${-v}` : 0}
							</text>
						))}
					</svg>
					<span />
				</div>
			</div>
			<p className={styles.note}>
				<Why
					method="runs"
					label="Whether the runs differ"
					data={`${runs.q_p === null ? "too little to ask" : `p of "the runs do not differ" ${decimal(runs.q_p, 2)}`}.${runs.further ? ` Over further runs like these: ${points(runs.further[1] ?? 0)} to ${points(runs.further[2] ?? 0)}.` : ""}${runs.next_run ? ` The next run: ${points(runs.next_run[0] ?? 0)} to ${points(runs.next_run[1] ?? 0)}.` : ""}`}
				>
					{runs.q_p !== null && runs.q_p < 0.1
						? "The runs differ more than luck would give."
						: "No sign that the runs differ beyond luck."}
				</Why>
			</p>
		</Card>
	);
}
