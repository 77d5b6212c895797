import type { Finish, Schemas } from "@/api/client";
import { chance, difference, percent } from "@/core/text";
import { Card } from "@/ui/Card";
import { Chart, Feet, Rungs } from "@/ui/chart/Chart";
import { linePath } from "@/ui/chart/paths";
import { linear } from "@/ui/chart/scale";
import { useSilk } from "@/ui/reference";
import { Why } from "@/ui/Why";
import styles from "./Beside.module.css";

type Cross = Schemas["CrossOut"];
const WIDTH = 420;
const HEIGHT = 210;
const PAD = { left: 44, right: 120, top: 12, bottom: 28 };

/** Crossed factors: strike at each combination, main effects, and whether they work together. */
export function CrossCard({ finish }: { finish: Finish }) {
	const cross = finish.cross;
	if (!cross) return null;
	const { unit } = finish;
	const leads = cross.interactions.some((i) => i.leads);
	return (
		<Card
			title="Each factor"
			picture="factors"
			aside={leads ? "they interact: read each level" : "averaged over the other factor"}
		>
			<div className={styles.two}>
				{cross.factors.length === 2 && unit === "points" && (
					<CrossPlot finish={finish} cross={cross} />
				)}
				<table className={styles.table}>
					<thead>
						<tr>
							<th scope="col">factor</th>
							<th scope="col">difference</th>
							<th scope="col">result</th>
						</tr>
					</thead>
					<tbody>
						{(leads ? cross.simple : cross.main).map((e) => (
							<tr key={`${e.factor}${e.level}${e.within}`}>
								<th scope="row">
									{e.factor}: {e.level} against {e.base}
									{e.within && <span className="muted"> at {e.within}</span>}
								</th>
								<td>
									<Why
										method={e.gap.low === null ? "lot" : e.gap.method}
										label={`${e.factor}: ${difference(e.gap.estimate, unit)}`}
										data={`${rangeOf(e.gap, unit)} p ${chance(e.p)}, after Holm's correction ${chance(e.p_holm)}.`}
									>
										{difference(e.gap.estimate, unit)}
									</Why>
								</td>
								<td>{e.grade_words}</td>
							</tr>
						))}
						{cross.interactions.map((i) => (
							<tr key={i.factors.join()}>
								<th scope="row">together: {i.factors.join(" × ")}</th>
								<td>
									<Why
										method="interaction"
										label={`Interaction ${difference(i.gap.estimate, unit)}`}
										data={`${rangeOf(i.gap, unit)}${i.p === null ? "" : ` p ${chance(i.p)}, approximate.`}${i.logistic_p === null ? "" : ` On the scale of odds, with overdispersion, p ${chance(i.logistic_p)}.`}`}
									>
										{difference(i.gap.estimate, unit)}
									</Why>
								</td>
								<td>
									{i.gap.low === null
										? "cannot tell"
										: i.leads
											? "they interact"
											: i.gap.low > 0 || (i.gap.high ?? 0) < 0
												? "may interact"
												: "no sign of interaction"}
								</td>
							</tr>
						))}
					</tbody>
				</table>
			</div>
		</Card>
	);
}

function rangeOf(gap: Schemas["IntervalOut"], unit: string): string {
	return gap.low === null || gap.high === null
		? `No range: ${gap.reason}.`
		: `Between ${difference(gap.low, unit)} and ${difference(gap.high, unit)}, 95 in 100.`;
}

/** Strike at each level of the first factor, a line for each level of the second. */
function CrossPlot({ finish, cross }: { finish: Finish; cross: Cross }) {
	const [first, second] = cross.factors;
	if (!first || !second) return null;
	const x = linear([0, Math.max(1, first.levels.length - 1)], [PAD.left, WIDTH - PAD.right]);
	const y = linear([0, 1], [HEIGHT - PAD.bottom, PAD.top]);
	const laneAt = (i: number, j: number) =>
		finish.lanes.find((l) => first.of[l.treatment] === i && second.of[l.treatment] === j);
	return (
		<Chart
			width={WIDTH}
			height={HEIGHT}
			says={`Strike at each combination: ${finish.lanes.map((l) => `${l.name} ${percent(l.rate ?? 0)}`).join(", ")}`}
		>
			<Rungs at={[0, 0.5, 1]} y={y} from={PAD.left} to={WIDTH - PAD.right} says={percent} />
			<Feet at={first.levels.map((_, i) => i)} x={x} y={HEIGHT - 8} says={(i) => first.levels[i]} />
			{second.levels.map((level, j) => {
				const dots = first.levels.map((_, i) => ({ lane: laneAt(i, j), at: x(i) }));
				const path = linePath(dots.map((d) => [d.at, y(d.lane?.rate ?? 0)]));
				const last = dots.at(-1);
				return (
					<g key={level}>
						<path d={path} className={styles.plain} strokeDasharray={j ? "7 4" : undefined} />
						{dots.map(
							(d) =>
								d.lane && (
									<Dot key={d.lane.treatment} silk={d.lane.silk} x={d.at} y={y(d.lane.rate ?? 0)} />
								),
						)}
						<text
							x={(last?.at ?? 0) + 12}
							y={y(last?.lane?.rate ?? 0) + 4}
							className={styles.lineName}
						>
							{second.name}: {level}
						</text>
					</g>
				);
			})}
		</Chart>
	);
}

export function Dot({ silk, x, y }: { silk: string; x: number; y: number }) {
	const found = useSilk(silk);
	return <circle cx={x} cy={y} r="6" fill={found?.ink ?? "var(--moss)"} stroke="var(--ink)" />;
}
