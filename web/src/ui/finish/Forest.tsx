import type { Finish } from "@/api/client";
import { linear, marks, spanOfTens } from "@/core/scale";
import { points } from "@/core/text";
import { Card } from "@/ui/Card";
import { SilkSquare } from "@/ui/SilkSquare";
import { Why } from "@/ui/Why";
import styles from "./Beside.module.css";

const WIDTH = 260;
const ROW = 26;

/** The gap of every treatment against the reference, with its doubt and the gap worth having. */
export function Forest({ finish, margin }: { finish: Finish; margin: number | null }) {
	const shown = finish.comparisons.filter((c) => c.gap);
	const reference = finish.lanes.find((l) => l.treatment === finish.reference);
	if (shown.length === 0 || !reference) return null;
	const ends = shown.flatMap((c) => [c.gap?.low, c.gap?.high, c.gap?.estimate]);
	const known = ends.filter((v): v is number => v != null).map((v) => 100 * v);
	const span = spanOfTens([...known, ...(margin ? [margin, -margin] : [])]);
	const x = linear(span, [8, WIDTH - 8]);
	return (
		<Card
			title={`Against ${reference.name}`}
			aside="gap in points with its 95 % range; shaded: less than the gap worth having"
		>
			<div className={styles.forest}>
				{shown.map((c) => {
					const lane = finish.lanes.find((l) => l.treatment === c.treatment);
					const { estimate = 0, low = null, high = null, method = "lot" } = c.gap ?? {};
					const at = x(100 * estimate);
					const range =
						low === null || high === null
							? `no range: ${c.gap?.reason}`
							: `from ${points(low)} to ${points(high)}`;
					return (
						<div key={c.treatment} className={styles.forestRow}>
							<span className={styles.arm}>
								<SilkSquare id={lane?.silk ?? "plain"} size={18} />{" "}
								<span dir="auto">{lane?.name}</span>
							</span>
							<svg
								viewBox={`0 0 ${WIDTH} ${ROW}`}
								role="img"
								aria-label={`${lane?.name}: ${points(estimate)}, ${range}`}
							>
								{margin !== null && (
									<rect
										x={x(-margin)}
										width={x(margin) - x(-margin)}
										y={0}
										height={ROW}
										className={styles.margin}
									/>
								)}
								<line x1={x(0)} x2={x(0)} y1={0} y2={ROW} className={styles.zero} />
								{low !== null && high !== null && (
									<line
										x1={x(100 * low)}
										x2={x(100 * high)}
										y1={ROW / 2}
										y2={ROW / 2}
										className={styles.range}
										strokeDasharray={c.broken_interval ? "6 4" : undefined}
									/>
								)}
								<path
									d={`M${at} ${ROW / 2 - 6}l6 6l-6 6l-6 -6z`}
									className={low === null ? styles.hollow : styles.mark}
								/>
							</svg>
							<span className={styles.value}>
								<Why
									method={low === null ? "lot" : method}
									label={`Gap of ${lane?.name}: ${points(estimate)}`}
									data={`${points(estimate)}, ${range}. ${c.sentence}`}
								>
									<strong>{points(estimate)}</strong>
								</Why>
							</span>
						</div>
					);
				})}
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
			{finish.higher !== null && (
				<p className={styles.note}>
					<Why
						method="higher"
						label="Chance that the true rate is higher"
						data={`${Math.round(100 * finish.higher)} in 100 here. It is a companion to the verdict, which goes by the lot test.`}
					>
						If both could have had any true rate at first, the chance that the treatment's is the
						higher one is {Math.round(100 * finish.higher)} in 100.
					</Why>
				</p>
			)}
		</Card>
	);
}
