import { Card } from "@/ui/Card";
import { NumberField } from "@/ui/NumberField";
import styles from "./Plan.module.css";
import { PlanNumber } from "./PlanNumber";
import { withStock } from "./plan";
import type { CardProps } from "./QuestionCard";

/** What is needed, with spares, against what is at hand, before anything is cut. */
export function GatherCard({ plan, set, replace, fault, found }: CardProps) {
	const number = { plan, set, fault };
	const items = found?.gather ?? [];
	return (
		<Card title="What you need" aside="with spares; enter what you have">
			{found?.shortfall && (
				<p role="status" className={styles.short}>
					{found.shortfall}
				</p>
			)}
			<table className={styles.gatherTable}>
				<thead className="visually-hidden">
					<tr>
						<th scope="col">Thing</th>
						<th scope="col">Needed</th>
						<th scope="col">You have</th>
					</tr>
				</thead>
				<tbody>
					{items.map((i) => (
						<tr key={i.key}>
							<th scope="row">
								<span dir="auto">{i.thing}</span>
								{i.short > 0 && <strong className={styles.fault}> short</strong>}
							</th>
							<td>{i.amount}</td>
							<td>
								<NumberField
									size="xs"
									w={76}
									min={0}
									aria-label={`${i.thing}: you have${i.unit ? `, ${i.unit}` : ""}`}
									placeholder="have"
									value={i.at_hand}
									onChange={(v) => replace(withStock(plan, i.key, v))}
								/>
							</td>
						</tr>
					))}
				</tbody>
			</table>
			<details className={styles.more}>
				<summary>Mother plants, medium, dips, germination</summary>
				<div className={styles.pair}>
					{plan.kind === "cutting" ? (
						<PlanNumber {...number} field="mother_plants" label="Mother plants" />
					) : (
						<PlanNumber
							{...number}
							field="germination_percent"
							label="Germination on the label, %"
						/>
					)}
					<PlanNumber {...number} field="pot_ml" label="Medium per container, mL" />
					<PlanNumber {...number} field="dip_ml" label="Dip per treatment, mL" />
				</div>
			</details>
		</Card>
	);
}
