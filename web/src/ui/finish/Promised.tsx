import type { Finish } from "@/api/client";
import { Card } from "@/ui/Card";
import { SilkSquare } from "@/ui/SilkSquare";
import styles from "./Finish.module.css";

/** What was sealed and what was changed: predictions scored, amendments, warnings overruled. */
export function Promised({ finish }: { finish: Finish }) {
	const changed = [...finish.amended, ...finish.overruled.map((o) => `Overruled. ${o}`)];
	if (finish.predictions.length === 0 && changed.length === 0) return null;
	return (
		<div className={styles.below}>
			{finish.predictions.length > 0 && (
				<Card title="Your predictions" aside="hidden since the start">
					<p>{finish.predictions_say}</p>
					<table className={styles.expected}>
						<thead>
							<tr>
								<th scope="col">Treatment</th>
								<th scope="col">predicted</th>
								<th scope="col">{finish.lanes[0]?.done ?? "struck"}</th>
								<th scope="col">difference</th>
							</tr>
						</thead>
						<tbody>
							{finish.predictions.map((p) => {
								const lane = finish.lanes.find((l) => l.treatment === p.treatment);
								return (
									<tr key={p.treatment}>
										<th scope="row">
											<SilkSquare id={lane?.silk ?? "plain"} size={18} />{" "}
											<span dir="auto">{lane?.name}</span>
										</th>
										<td>{Math.round(p.predicted)}%</td>
										<td>{Math.round(p.struck)}%</td>
										<td>{offSaid(p.off_points, p.inside)}</td>
									</tr>
								);
							})}
						</tbody>
					</table>
				</Card>
			)}
			{changed.length > 0 && (
				<Card title="Changes to the plan">
					<ul className={styles.says}>
						{changed.map((c) => (
							<li key={c} dir="auto">
								{c}
							</li>
						))}
					</ul>
				</Card>
			)}
		</div>
	);
}

function offSaid(points: number, inside: boolean | null): string {
	const size = Math.round(Math.abs(points));
	const way = size === 0 ? "exact" : `${size} points too ${points > 0 ? "high" : "low"}`;
	return inside ? `${way}, within the interval` : way;
}
