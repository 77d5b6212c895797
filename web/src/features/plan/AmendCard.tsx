import { Button, NativeSelect, Textarea, TextInput } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Schemas, type Trial } from "@/api/client";
import { ofTrial, trialChanged } from "@/api/keys";
import { dayMonth } from "@/core/text";
import { looksFault, looksSaid, looksTyped } from "@/core/words";
import { Card } from "@/ui/Card";
import { NumberField } from "@/ui/NumberField";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { useStageScale } from "@/ui/reference";
import styles from "./Plan.module.css";
import { measuresOf } from "./QuestionCard";

const FIELDS = [
	{ value: "note", label: "something was done differently" },
	{ value: "length_days", label: "the last day" },
	{ value: "looks", label: "look days" },
	{ value: "endpoint", label: "what counts as success" },
	{ value: "threshold_mm", label: "shortest root that counts, mm" },
	{ value: "measure", label: "what it is judged on" },
	{ value: "gap_points", label: "smallest difference that matters, points" },
	{ value: "material", label: "plants (correction)" },
] as const;
const LABELS: Record<string, string> = {
	...Object.fromEntries(FIELDS.map((f) => [f.value, f.label])),
	look_days: "look days",
	look_every_days: "days between looks",
};
type Field = (typeof FIELDS)[number]["value"];

/** Changes to a frozen plan, each with its reason, and the form that makes one. */
export function AmendCard({ trial }: { trial: Trial }) {
	const queries = useQueryClient();
	const [field, setField] = useState<Field>("note");
	const [value, setValue] = useState("");
	const [reason, setReason] = useState("");
	const amend = useMutation({
		mutationFn: (sent: Schemas["AmendIn"]) =>
			body(
				api.POST("/api/trials/{trial_id}/amend", {
					params: { path: { trial_id: trial.id } },
					body: sent,
				}),
			),
		onSuccess: (changed) => {
			queries.setQueryData(ofTrial(trial.id, "whole"), changed);
			void trialChanged(queries, trial.id, ["whole"]);
			setValue("");
			setReason("");
		},
	});
	return (
		<Card title="Amendments" aside="dated, with a reason, shown in the results">
			{trial.amendments.length === 0 && <p>None: the plan is unchanged</p>}
			<ol className={styles.amendments}>
				{trial.amendments.map((a) => (
					<li key={a.at + a.field + a.after} dir="auto">
						{dayMonth(a.at)}:{" "}
						{a.field
							? `${LABELS[a.field] ?? a.field.replaceAll("_", " ")} was ${a.before}, became ${a.after}`
							: a.after}{" "}
						<span className="muted">({a.reason})</span>
					</li>
				))}
			</ol>
			<details className={styles.more}>
				<summary>Change the plan</summary>
				<NativeSelect
					label="What changes"
					value={field}
					data={[...FIELDS]}
					onChange={(e) => {
						setField(e.currentTarget.value as Field);
						setValue("");
					}}
				/>
				<NewValue trial={trial} field={field} value={value} onChange={setValue} />
				<TextInput label="Why" value={reason} onChange={(e) => setReason(e.currentTarget.value)} />
				<ProblemAlert error={amend.error} />
				<Button
					variant="default"
					loading={amend.isPending}
					onClick={() => amend.mutate(sent(trial, field, value, reason))}
				>
					Save change
				</Button>
			</details>
		</Card>
	);
}

const spanOf = (trial: Trial) => ({
	start: trial.started_on ?? "",
	lastDay: trial.plan.length_days,
});

function sent(trial: Trial, field: Field, value: string, reason: string): Schemas["AmendIn"] {
	if (field === "note") return { change: {}, note: value, reason };
	if (field === "looks") {
		const looks = looksTyped(value, spanOf(trial));
		if (!looks) return { change: {}, note: "", reason };
		const change =
			"days" in looks ? { look_days: looks.days } : { look_every_days: looks.every, look_days: [] };
		return { change, note: "", reason };
	}
	const isText = field === "measure" || field === "material";
	if (value === "") return { change: {}, note: "", reason };
	return { change: { [field]: isText ? value : Number(value) }, note: "", reason };
}

interface NewValueProps {
	trial: Trial;
	field: Field;
	value: string;
	onChange: (value: string) => void;
}

function NewValue({ trial, field, value, onChange }: NewValueProps) {
	const ladder = useStageScale(trial.plan);
	const label = "New value";
	if (field === "note" || field === "material") {
		return (
			<Textarea
				label={field === "note" ? "What was done" : label}
				autosize
				value={value}
				onChange={(e) => onChange(e.currentTarget.value)}
			/>
		);
	}
	if (field === "looks") {
		return (
			<TextInput
				label={label}
				placeholder={looksSaid(trial.plan.look_every_days, trial.plan.look_days)}
				value={value}
				error={value === "" ? undefined : looksFault(value, spanOf(trial))}
				onChange={(e) => onChange(e.currentTarget.value)}
			/>
		);
	}
	if (field === "measure" || field === "endpoint") {
		const data =
			field === "measure"
				? measuresOf(trial.plan)
				: (ladder?.stages ?? [])
						.filter((s) => ladder?.endpoints.includes(s.code ?? -1))
						.map((s) => ({ value: String(s.code), label: s.name }));
		return (
			<NativeSelect
				label={label}
				value={value}
				data={[{ value: "", label: "choose" }, ...data]}
				onChange={(e) => onChange(e.currentTarget.value)}
			/>
		);
	}
	return (
		<NumberField
			label={label}
			value={value === "" ? null : Number(value)}
			placeholder={String(trial.plan[field])}
			onChange={(v) => onChange(v === null ? "" : String(v))}
		/>
	);
}
