import { NativeSelect } from "@mantine/core";
import { useState } from "react";
import type { Consequences, Plan } from "@/api/client";
import { Card } from "@/ui/Card";
import { SilkSquare } from "@/ui/SilkSquare";
import styles from "./Plan.module.css";
import { changeTreatment, propertyOf, withProperty } from "./plan";
import { useTemplates } from "./usePlan";

const KNOWN = [
	"active",
	"strength",
	"carrier",
	"wetting",
	"handling",
	"medium",
	"container",
	"cover",
	"place",
	"lot",
	"age",
	"wood stage",
	"type",
	"start",
	"temperature",
	"light",
	"duration",
];

export interface DifferencesCardProps {
	plan: Plan;
	found: Consequences | undefined;
	onChange: (plan: Plan) => void;
}

/** What differs between arms, and which pairs can be compared: those that differ in one thing. */
export function DifferencesCard({ plan, found, onChange }: DifferencesCardProps) {
	const [added, setAdded] = useState<string[]>([]);
	const arms = plan.treatments;
	const named = arms.flatMap((t) => (t.properties ?? []).map((p) => p.name));
	const used = [...new Set([...(found?.properties ?? []), ...named, ...added])];
	const examples = useTemplates().find((t) => t.subject === plan.subject)?.examples ?? {};
	return (
		<Card title="What differs" aside="two treatments can be compared when only one thing differs">
			<div className={styles.scroll}>
				<table className={styles.grid}>
					<thead>
						<tr>
							<th scope="col">Property</th>
							{arms.map((t, i) => (
								<th key={i} scope="col">
									<SilkSquare
										id={t.silk ?? "plain"}
										size={22}
										label={t.name || `treatment ${i + 1}`}
									/>
								</th>
							))}
						</tr>
					</thead>
					<tbody>
						{used.map((name) => (
							<tr key={name}>
								<th scope="row">{name}</th>
								{arms.map((t, i) => (
									<td key={i}>
										<input
											className={styles.cell}
											aria-label={`${name} of ${t.name || `treatment ${i + 1}`}`}
											placeholder={impliedBy(t, name) || (i > 0 ? examples[name] : undefined)}
											value={propertyOf(t, name)}
											onChange={(e) =>
												onChange(
													changeTreatment(plan, i, withProperty(t, name, e.currentTarget.value)),
												)
											}
										/>
									</td>
								))}
							</tr>
						))}
					</tbody>
				</table>
			</div>
			<NativeSelect
				size="sm"
				aria-label="Add a difference"
				value=""
				data={[
					{ value: "", label: "Add another difference" },
					...KNOWN.filter((k) => !used.includes(k)),
				]}
				onChange={(e) => e.currentTarget.value && setAdded([...added, e.currentTarget.value])}
			/>
			{found && found.pairs.length > 0 && <PairTable plan={plan} pairs={found.pairs} />}
		</Card>
	);
}

/** What an arm has by its agent and carrier, where nobody wrote it down. */
function impliedBy(t: Plan["treatments"][number], name: string): string {
	if (name === "active" && t.agent !== "nothing") return t.agent ?? "";
	if (name === "carrier" && t.carrier !== "none") return t.carrier ?? "";
	return "–";
}

function PairTable({ plan, pairs }: { plan: Plan; pairs: Consequences["pairs"] }) {
	const arms = plan.treatments;
	const of = (i: number, j: number) =>
		pairs.find((p) => p.one === Math.min(i, j) && p.other === Math.max(i, j));
	const entangled = pairs.filter((p) => p.differ.length > 1).length;
	const alike = pairs.filter((p) => p.differ.length === 0).length;
	const name = (i: number) => arms[i]?.name || `treatment ${i + 1}`;
	return (
		<>
			<div className={styles.scroll}>
				<table className={styles.grid}>
					<caption className="visually-hidden">Pairs that differ in exactly one thing</caption>
					<tbody>
						{arms.slice(1).map((t, r) => (
							<tr key={r}>
								<th scope="row">
									<SilkSquare id={t.silk ?? "plain"} size={20} label={name(r + 1)} />
								</th>
								{arms.slice(0, r + 1).map((_, c) => {
									const pair = of(r + 1, c);
									const n = pair?.differ.length ?? 0;
									const said = pair?.differ.join(", ") || "nothing entered";
									return (
										<td
											key={c}
											className={n === 1 ? styles.one : n > 1 ? styles.several : styles.none}
											title={`${name(r + 1)} and ${name(c)}: ${said}`}
										>
											{n === 0 ? "alike" : n === 1 ? said : `${n} things`}
										</td>
									);
								})}
							</tr>
						))}
						<tr>
							<td />
							{arms.slice(0, -1).map((t, c) => (
								<th key={c} scope="col">
									<SilkSquare id={t.silk ?? "plain"} size={20} label={name(c)} />
								</th>
							))}
						</tr>
					</tbody>
				</table>
			</div>
			<p className="muted">
				{pairs.length - entangled - alike} of {pairs.length} pairs differ in exactly one thing
				{entangled > 0 ? `; ${entangled} differ in several` : ""}.
				{alike > 0 ? " Some treatments are described alike. Add what differs above." : ""}
			</p>
			{entangled > 0 && (
				<details className={styles.more}>
					<summary>Pairs that differ in several things</summary>
					<ul className={styles.notes}>
						{pairs
							.filter((p) => p.differ.length > 1)
							.map((p) => (
								<li key={`${p.one}-${p.other}`} dir="auto">
									{name(p.one)} and {name(p.other)}: {p.differ.join(", ")}
								</li>
							))}
					</ul>
				</details>
			)}
		</>
	);
}
