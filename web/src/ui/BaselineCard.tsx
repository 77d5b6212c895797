import { Button, NativeSelect, Textarea, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Trial } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { daysTyped, valuesTyped } from "@/core/words";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { SilkSquare } from "@/ui/SilkSquare";
import styles from "./BaselineCard.module.css";
import { WhyNot } from "./WhyNot";

const TRAITS = ["length", "nodes", "thickness", "leaves", "weight", "grade"];

export interface BaselineCardProps {
	trial: Trial;
	canEdit: boolean;
	/** The plan has changes that are not saved yet; measuring goes by the saved bench. */
	isWaiting?: boolean;
}

/** Size and grade before the start: dealt by lot or measured, and whether the arms are alike. */
export function BaselineCard({ trial, canEdit, isWaiting }: BaselineCardProps) {
	const key = ofTrial(trial.id, "baseline");
	const queries = useQueryClient();
	const params = { path: { trial_id: trial.id } };
	const { data } = useQuery({
		queryKey: key,
		queryFn: () => body(api.GET("/api/trials/{trial_id}/baseline", { params })),
	});
	const onSuccess = (found: NonNullable<typeof data>) => queries.setQueryData(key, found);
	const deal = useMutation({
		mutationFn: (grades: number[]) =>
			body(api.POST("/api/trials/{trial_id}/grades", { params, body: { grades } })),
		onSuccess,
	});
	const keep = useMutation({
		mutationFn: (sent: { trait: string; values: (number | null)[] }) =>
			body(api.PUT("/api/trials/{trial_id}/baseline", { params, body: sent })),
		onSuccess,
	});
	if (!canEdit && !data?.length) return null;
	return (
		<Card title="Are the plants alike at the start?" aside="size and grade per treatment">
			{(data ?? []).map((b) => (
				<section key={b.trait} aria-label={`Balance of ${b.trait}`}>
					<table className={styles.balance}>
						<thead>
							<tr>
								<th scope="col">{b.trait}</th>
								<th scope="col">measured</th>
								<th scope="col">mean</th>
								<th scope="col">lowest to highest</th>
							</tr>
						</thead>
						<tbody>
							{trial.plan.treatments.map((t, i) => {
								const arm = b.arms[i];
								return (
									<tr key={t.name}>
										<th scope="row">
											<SilkSquare id={t.silk} size={18} /> <span dir="auto">{t.name}</span>
										</th>
										<td>{arm?.n ?? 0}</td>
										<td>{arm?.mean == null ? "none" : arm.mean.toFixed(2)}</td>
										<td>{arm?.least == null ? "none" : `${arm.least} – ${arm.most}`}</td>
									</tr>
								);
							})}
						</tbody>
					</table>
					<p>{b.says}</p>
				</section>
			))}
			{isWaiting && <p className={styles.hint}>Save first: grades follow the saved tray plan</p>}
			{canEdit && (
				<>
					<DealGrades busy={deal.isPending} onDeal={(g) => !isWaiting && deal.mutate(g)} />
					<Measured busy={keep.isPending} onKeep={(sent) => !isWaiting && keep.mutate(sent)} />
					<ProblemAlert error={deal.error ?? keep.error} />
				</>
			)}
		</Card>
	);
}

function DealGrades({ busy, onDeal }: { busy: boolean; onDeal: (grades: number[]) => void }) {
	const [text, setText] = useState("");
	const typed = daysTyped(text);
	return (
		<div className={styles.inline}>
			<TextInput
				size="sm"
				label="Number in each grade, best first"
				placeholder="40, 50, 30"
				value={text}
				error={typed ? undefined : "Enter whole numbers, such as 40, 50, 30"}
				onChange={(e) => setText(e.currentTarget.value)}
			/>
			<Button
				size="sm"
				variant="default"
				loading={busy}
				disabled={!typed?.length}
				onClick={() => typed && onDeal(typed)}
			>
				Assign at random
			</Button>
			<WhyNot>{typed?.length ? "" : "Say how many there are of each grade."}</WhyNot>
		</div>
	);
}

interface MeasuredProps {
	busy: boolean;
	onKeep: (sent: { trait: string; values: (number | null)[] }) => void;
}

function Measured({ busy, onKeep }: MeasuredProps) {
	const [trait, setTrait] = useState("length");
	const [text, setText] = useState("");
	const values = valuesTyped(text);
	return (
		<details className={styles.more}>
			<summary>Enter measurements</summary>
			<NativeSelect
				size="sm"
				label="What was measured"
				value={trait}
				data={TRAITS}
				onChange={(e) => setTrait(e.currentTarget.value)}
			/>
			<Textarea
				label="One value per cell, row by row; a dash for none"
				autosize
				minRows={2}
				maxRows={8}
				value={text}
				error={values ? undefined : "Separate the numbers with spaces or new lines"}
				onChange={(e) => setText(e.currentTarget.value)}
			/>
			<Button
				size="sm"
				variant="default"
				loading={busy}
				disabled={!values?.length}
				onClick={() => values && onKeep({ trait, values })}
			>
				Keep {values?.length ?? 0} values
			</Button>
			<WhyNot>{values?.length ? "" : "Type in one value or more."}</WhyNot>
		</details>
	);
}
