import type { Finish } from "@/api/client";
import { decimal, significant } from "@/core/text";
import { Card } from "@/ui/Card";
import { SilkSquare } from "@/ui/SilkSquare";
import { Why } from "@/ui/Why";
import styles from "./Beside.module.css";

/** Later growth, at equal ages only. */
export function GrowthCard({ finish }: { finish: Finish }) {
	return (
		<>
			{finish.growth.map((g) => (
				<Card
					key={g.measure}
					title={`${g.label} on day ${g.age}`}
					aside="equal ages; only plants that were measured; secondary"
				>
					<table className={styles.table}>
						<thead>
							<tr>
								<th scope="col">treatment</th>
								<th scope="col">mean{g.unit && `, ${g.unit}`}</th>
								<th scope="col">range</th>
								<th scope="col">plants</th>
								<th scope="col">against control</th>
							</tr>
						</thead>
						<tbody>
							{g.arms.map((a) => {
								const lane = finish.lanes.find((l) => l.treatment === a.treatment);
								return (
									<tr key={a.treatment}>
										<th scope="row">
											<SilkSquare id={lane?.silk ?? "plain"} size={18} />{" "}
											<span dir="auto">{lane?.name}</span>
										</th>
										<td>{short(a.mean)}</td>
										<td>
											{short(a.least)} to {short(a.most)}
										</td>
										<td>{a.n}</td>
										<td>
											{a.gap ? (
												<Why
													method="measure"
													label={`Gap ${short(a.gap.estimate)}`}
													data={
														a.gap.low === null || a.gap.high === null
															? `${a.gap.reason}.`
															: `the true difference may lie from ${short(a.gap.low)} to ${short(a.gap.high)} ${g.unit}; p ${decimal(a.p ?? 1, 3)}.`
													}
												>
													{short(a.gap.estimate)}, {a.grade_words}
												</Why>
											) : (
												""
											)}
										</td>
									</tr>
								);
							})}
						</tbody>
					</table>
				</Card>
			))}
		</>
	);
}

function short(value: number): string {
	return significant(value);
}
