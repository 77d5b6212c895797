import { Button, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, body, type Finish, type Kind, type Schemas } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { decimal } from "@/core/text";
import { Card } from "@/ui/Card";
import styles from "@/ui/finish/Beside.module.css";
import { didOf } from "@/ui/finish/did";
import { NumberField } from "@/ui/NumberField";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { SilkSquare } from "@/ui/SilkSquare";
import { faultOf } from "@/ui/Unopened";

type Worth = Schemas["WorthIn"];
const EMPTY: Worth = { struck_plant: 1, hour: 0, currency: "", cost: {}, minutes: {} };

export interface PayoffCardProps {
	trialId: string;
	finish: Finish;
	/** What was set: a cutting or a seed, which money and minutes are counted by. */
	kind: Kind;
}

/** Payoff beside proof: what a treatment costs, what it may bring, and where it breaks even. */
export function PayoffCard({ trialId, finish, kind }: PayoffCardProps) {
	const queries = useQueryClient();
	const params = { path: { trial_id: trialId } };
	const found = useQuery({
		queryKey: ofTrial(trialId, "worth"),
		queryFn: () => body(api.GET("/api/trials/{trial_id}/worth", { params })),
	});
	const [form, setForm] = useState<Worth | null>(null);
	const given = found.data?.given;
	useEffect(() => {
		if (given) setForm(given);
	}, [given]);
	const keep = useMutation({
		mutationFn: (worth: Worth) =>
			body(api.PUT("/api/trials/{trial_id}/worth", { params, body: worth })),
		onSuccess: (told) => queries.setQueryData(ofTrial(trialId, "worth"), told),
	});
	if (finish.comparisons.length === 0) return null;
	const did = didOf(finish);
	const shown = form ?? EMPTY;
	const set = (change: Partial<Worth>) => setForm({ ...shown, ...change });
	const of = (t: number, name: "cost" | "minutes") => shown[name]?.[t] ?? 0;
	return (
		<Card
			title="Worth the cost?"
			aside="evidence and cost side by side; money never changes the grade"
		>
			{found.data?.payoffs.length ? (
				<table className={styles.table}>
					<thead>
						<tr>
							<th scope="col">treatment</th>
							<th scope="col">summary</th>
							<th scope="col">expected gain per {kind}</th>
							<th scope="col">pays from</th>
							<th scope="col">cost of each that {did}</th>
							<th scope="col">risk</th>
						</tr>
					</thead>
					<tbody>
						{found.data.payoffs.map((p) => {
							const lane = finish.lanes.find((l) => l.treatment === p.treatment);
							return (
								<tr key={p.treatment}>
									<th scope="row">
										<SilkSquare id={lane?.silk ?? "plain"} size={18} />{" "}
										<span dir="auto">{lane?.name}</span>
									</th>
									<td>
										<strong>{p.word}</strong>
									</td>
									<td>
										{p.gain === null ? "cannot tell" : money(p.gain, given?.currency)}
										{p.low !== null && p.high !== null && (
											<span className="muted">
												{" "}
												({money(p.low)} to {money(p.high)})
											</span>
										)}
									</td>
									<td>
										{p.break_even <= 0 ? "any gain" : `${decimal(100 * p.break_even, 1)} points`}
									</td>
									<td>{p.per_success === null ? `none ${did}` : money(p.per_success)}</td>
									<td>
										{p.lost} of {lane?.n} lost
										{riskOf(finish, p.treatment)}
									</td>
								</tr>
							);
						})}
					</tbody>
				</table>
			) : (
				<p className="muted">
					Enter what one that {did} is worth and what each treatment costs. Then even a tie gives
					advice.
				</p>
			)}
			<details className={`${styles.details} no-print`} open={keep.isError}>
				<summary>Your prices</summary>
				<div className={styles.form}>
					<NumberField
						label={`Value of one that ${did}`}
						min={0}
						value={shown.struck_plant}
						onChange={(v) => v !== null && set({ struck_plant: v })}
					/>
					<NumberField
						label="Cost of an hour's work"
						min={0}
						value={shown.hour ?? 0}
						onChange={(v) => v !== null && set({ hour: v })}
					/>
					<TextInput
						label="Currency"
						maxLength={8}
						value={shown.currency ?? ""}
						onChange={(e) => set({ currency: e.currentTarget.value })}
					/>
				</div>
				<table className={styles.table}>
					<thead>
						<tr>
							<th scope="col">treatment</th>
							<th scope="col">Cost per {kind}</th>
							<th scope="col">Minutes per {kind}</th>
						</tr>
					</thead>
					<tbody>
						{finish.lanes.map((l) => (
							<tr key={l.treatment}>
								<th scope="row" dir="auto">
									{l.name}
								</th>
								{(["cost", "minutes"] as const).map((name) => (
									<td key={name}>
										<NumberField
											aria-label={`${name === "cost" ? "Cost" : "Minutes"} a ${kind}, ${l.name}`}
											min={0}
											value={of(l.treatment, name)}
											onChange={(v) =>
												v !== null && set({ [name]: { ...shown[name], [l.treatment]: v } })
											}
										/>
									</td>
								))}
							</tr>
						))}
					</tbody>
				</table>
				<div className={styles.buttons}>
					<Button loading={keep.isPending} onClick={() => keep.mutate(shown)}>
						Calculate and save
					</Button>
				</div>
				<ProblemAlert error={keep.error} />
			</details>
			<ProblemAlert error={faultOf(found)} />
		</Card>
	);
}

/** Harm as the finish calls it, beside the loss. */
function riskOf(finish: Finish, treatment: number): string {
	const c = finish.comparisons.find((x) => x.treatment === treatment);
	if (c?.harm) return ", harm";
	return c?.possible_harm ? ", possible harm" : "";
}

function money(value: number, currency = ""): string {
	const size = decimal(Math.abs(value), 2);
	return `${value < 0 ? "−" : ""}${size}${currency ? ` ${currency}` : ""}`;
}
