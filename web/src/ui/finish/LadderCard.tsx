import { useElementSize } from "@mantine/hooks";
import type { Finish } from "@/api/client";
import { chance, percent } from "@/core/text";
import { Card } from "@/ui/Card";
import { Chart, Range, Rungs } from "@/ui/chart/Chart";
import { linePath } from "@/ui/chart/paths";
import { linear } from "@/ui/chart/scale";
import { Why } from "@/ui/Why";
import styles from "./Beside.module.css";
import { Dot } from "./CrossCard";
import { didOf } from "./did";

const WIDEST = 640;
const HEIGHT = 230;
const PAD = { left: 48, right: 24, top: 14, bottom: 44 };

/** A ladder of doses or durations: strike and its doubt at each step, loss on the same axis. */
export function LadderCard({ finish }: { finish: Finish }) {
	const { ref, width } = useElementSize();
	const ladder = finish.ladder;
	if (!ladder) return null;
	const wide = Math.min(WIDEST, width || WIDEST); // so that words keep their size on a phone
	const x = linear([0, ladder.steps.length - 1], [PAD.left + 20, wide - PAD.right - 20]);
	const tight = x(1) - x(0) < 64;
	const y = linear([0, 1], [HEIGHT - PAD.bottom, PAD.top]);
	const steps = ladder.steps.map((s, i) => ({
		...s,
		at: x(i),
		lane: finish.lanes.find((l) => l.treatment === s.treatment),
	}));
	const path = (of: (s: (typeof steps)[number]) => number | null) =>
		linePath(steps.map((s) => [s.at, y(of(s) ?? 0)]));
	const did = didOf(finish);
	const said = steps
		.map(
			(s) =>
				`${s.dose} ${ladder.unit}: ${percent(s.rate ?? 0)} ${did}, ${percent(s.lost ?? 0)} lost`,
		)
		.join("; ");
	return (
		<Card
			title="Dose series"
			picture="ladder"
			aside={`solid: share that ${did}, with interval; dashed: lost; doses evenly spaced`}
		>
			<div ref={ref}>
				<Chart width={wide} height={HEIGHT} says={said} className={styles.wide}>
					<Rungs
						at={[0, 0.25, 0.5, 0.75, 1]}
						y={y}
						from={PAD.left}
						to={wide - PAD.right}
						says={percent}
					/>
					{tight && (
						<text x={PAD.left - 8} y={HEIGHT - 24} textAnchor="end" className={styles.tick}>
							{ladder.unit}
						</text>
					)}
					<path d={path((s) => s.lost)} className={styles.loss} strokeDasharray="3 5" />
					<path d={path((s) => s.rate)} className={styles.plain} />
					{steps.map((s) => {
						const limits = s.lane?.interval;
						return (
							<g key={s.treatment}>
								{limits?.low != null && limits.high != null && (
									<Range upright at={s.at} from={y(limits.low)} to={y(limits.high)} />
								)}
								<Dot silk={s.lane?.silk ?? "plain"} x={s.at} y={y(s.rate ?? 0)} />
								<path
									d={`M${s.at - 4} ${y(s.lost ?? 0) - 4}l8 8M${s.at + 4} ${y(s.lost ?? 0) - 4}l-8 8`}
									className={styles.loss}
								/>
								<text x={s.at} y={HEIGHT - 24} textAnchor="middle" className={styles.tick}>
									{s.dose} {!tight && ladder.unit}
								</text>
								<text
									x={Math.min(Math.max(s.at, 66), wide - 66)}
									y={HEIGHT - 8}
									textAnchor="middle"
									className={styles.tick}
								>
									{ladder.best === s.treatment ? "best dose tried" : ""}
								</text>
							</g>
						);
					})}
				</Chart>
			</div>
			<p>
				<Why
					method="ladder"
					label={`Trend: ${ladder.grade_words}`}
					data={`p ${chance(ladder.p)} over all shapes together. ${ladder.says.join(" ")}`}
				>
					<strong>{ladder.grade_words}</strong>
				</Why>
				. {ladder.says[1]}
			</p>
		</Card>
	);
}
