import type { Finish } from "@/api/client";
import { amount } from "@/core/text";
import { Card } from "@/ui/Card";
import { SilkSquare } from "@/ui/SilkSquare";
import { Term } from "@/ui/Term";
import { Why } from "@/ui/Why";
import styles from "./Beside.module.css";
import { whatOf } from "./did";

/** The placings: ties are dead heats, and groups that share a letter cannot be told apart. */
export function PlacingsCard({ finish }: { finish: Finish }) {
	const placings = finish.placings;
	if (!placings || placings.places.length < 3) return null;
	const what = whatOf(finish);
	const letters = [...new Set(placings.places.flatMap((p) => [...p.letters]))].sort();
	return (
		<Card
			title="Placings"
			aside={
				<>
					{what}, every pair compared; <Term name="dead heat" />?
				</>
			}
		>
			<p>
				<Why
					method="placings"
					label="Placings"
					data={`${placings.pairs} pairs were tested and corrected together.`}
				>
					{placings.says}
				</Why>
			</p>
			<table className={styles.table}>
				<thead>
					<tr>
						<th scope="col">place</th>
						<th scope="col">treatment</th>
						<th scope="col">{what}</th>
						<th scope="col">same letter: no clear difference</th>
					</tr>
				</thead>
				<tbody>
					{placings.places.map((p) => {
						const lane = finish.lanes.find((l) => l.treatment === p.treatment);
						return (
							<tr key={p.treatment}>
								<td>
									{p.place}
									{p.dead_heat && <span className="muted"> dead heat (equal)</span>}
								</td>
								<th scope="row">
									<SilkSquare id={lane?.silk ?? "plain"} size={18} />{" "}
									<span dir="auto">{lane?.name}</span>
								</th>
								<td>{amount(p.rate, finish.unit)}</td>
								<td>
									<span className="visually-hidden">group {[...p.letters].join(" and ")}</span>
									<span className={styles.groups} aria-hidden>
										{letters.map((l) => (
											<span key={l} className={p.letters.includes(l) ? styles.bar : styles.gap}>
												{p.letters.includes(l) ? l : ""}
											</span>
										))}
									</span>
								</td>
							</tr>
						);
					})}
				</tbody>
			</table>
		</Card>
	);
}
