import type { Finish } from "@/api/client";
import { decimal, significant } from "@/core/text";
import { inUnits } from "@/core/units";
import { Card } from "@/ui/Card";
import { SilkSquare } from "@/ui/SilkSquare";
import { useUnits } from "@/ui/useUnits";
import { Why } from "@/ui/Why";
import styles from "./Beside.module.css";

/** Later growth, at equal ages only. */
export function GrowthCard({ finish }: { finish: Finish }) {
	const { system } = useUnits();
	return (
		<>
			{finish.growth.map((g) => {
				const { show, unit } = inUnits(g.unit, system);
				return (
					<Card
						key={g.measure}
						title={`${g.label} on day ${g.age}`}
						aside={`same age; measured plants only${g.is_primary ? "" : "; secondary"}`}
					>
						<table className={styles.table}>
							<thead>
								<tr>
									<th scope="col">treatment</th>
									<th scope="col">mean{unit && `, ${unit}`}</th>
									<th scope="col">range</th>
									<th scope="col">plants</th>
									<th scope="col">difference from control</th>
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
											<td>{short(show(a.mean))}</td>
											<td>
												{short(show(a.least))} to {short(show(a.most))}
											</td>
											<td>{a.n}</td>
											<td>
												{a.gap ? (
													<Why
														method="measure"
														label={`Difference ${short(show(a.gap.estimate))}`}
														data={
															a.gap.low === null || a.gap.high === null
																? `${a.gap.reason}.`
																: `the results fit ${short(show(a.gap.low))} to ${short(show(a.gap.high))} ${unit}; p ${decimal(a.p ?? 1, 3)}.`
														}
													>
														{short(show(a.gap.estimate))}, {a.grade_words}
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
				);
			})}
		</>
	);
}

function short(value: number): string {
	return significant(value);
}
