import { NativeSelect, Textarea, TextInput } from "@mantine/core";
import type { ApiProblem, MixSum } from "@/api/client";
import styles from "./Mixing.module.css";

export interface SumFormProps {
	sum: MixSum;
	values: Record<string, string>;
	onChange: (values: Record<string, string>) => void;
	/** What the server said of these fields, if it refused them. */
	problem: ApiProblem | null;
}

/** The fields of a sum, each read as a grower writes it: "250 mL", "3/4 tsp", "1 %". */
export function SumForm({ sum, values, onChange, problem }: SumFormProps) {
	const set = (key: string, value: string) => onChange({ ...values, [key]: value });
	const fault = (key: string) =>
		problem?.errors.find((e) => e.pointer === `/fields/${key}`)?.detail;
	return (
		<div className={styles.form}>
			{sum.fields.map((f) => {
				const label = f.optional && f.choices.length === 0 ? `${f.label} (if any)` : f.label;
				const own = { label, value: values[f.key] ?? "", error: fault(f.key), size: "sm" as const };
				if (f.choices.length > 0) {
					const data = f.choices.map((c) => ({ value: c.value, label: c.label }));
					return (
						<NativeSelect
							key={f.key}
							{...own}
							data={data}
							onChange={(e) => set(f.key, e.currentTarget.value)}
						/>
					);
				}
				if (f.key === "counts" || f.key === "daily") {
					return (
						<Textarea
							key={f.key}
							{...own}
							autosize
							minRows={2}
							className={styles.wide}
							placeholder={f.start}
							onChange={(e) => set(f.key, e.currentTarget.value)}
						/>
					);
				}
				return (
					<TextInput
						key={f.key}
						{...own}
						placeholder={f.hint || f.start}
						autoComplete="off"
						onChange={(e) => set(f.key, e.currentTarget.value)}
					/>
				);
			})}
		</div>
	);
}

/** The examples a sum starts with. */
export function startOf(sum: MixSum): Record<string, string> {
	return Object.fromEntries(sum.fields.filter((f) => f.start !== "").map((f) => [f.key, f.start]));
}

/** Fields with something in them: what is sent. */
export function filled(values: Record<string, string>): Record<string, string> {
	return Object.fromEntries(Object.entries(values).filter(([, v]) => v.trim() !== ""));
}
