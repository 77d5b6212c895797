import type { Finish } from "@/api/client";
import { decimal, significant } from "@/core/text";
import { Card } from "@/ui/Card";
import styles from "./Beside.module.css";

/** Seed-testing indices, on request, each with its definition; none enters a verdict. */
export function IndicesCard({ finish }: { finish: Finish }) {
	const rows = finish.lanes.find((l) => l.indices.length > 0)?.indices ?? [];
	if (rows.length === 0) return null;
	return (
		<Card>
			<details className={styles.details}>
				<summary>Seed-testing indices</summary>
				{/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it */}
				<section className={styles.scroll} tabIndex={0} aria-label="Seed-testing indices">
					<table className={styles.table}>
						<thead>
							<tr>
								<th scope="col">index</th>
								{finish.lanes.map((l) => (
									<th key={l.treatment} scope="col" dir="auto">
										{l.name}
									</th>
								))}
							</tr>
						</thead>
						<tbody>
							{rows.map((row, i) => (
								<tr key={row.id}>
									<th scope="row">
										{row.name}
										{row.unit && <span className="muted"> ({row.unit})</span>}
										<span className={styles.small}>
											{row.says} {row.source}
										</span>
									</th>
									{finish.lanes.map((l) => {
										const found = l.indices[i];
										return (
											<td key={l.treatment}>
												{found?.value == null
													? (found?.reason ?? "not defined")
													: round(found.value)}
											</td>
										);
									})}
								</tr>
							))}
						</tbody>
					</table>
				</section>
				<p className={styles.note}>
					These describe the results. They are not used for the grade, and most ignore seeds that
					never came up.
				</p>
			</details>
		</Card>
	);
}

function round(value: number): string {
	return Math.abs(value) >= 100 ? decimal(value, 0) : significant(value);
}
