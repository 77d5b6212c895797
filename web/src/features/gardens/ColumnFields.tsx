import { Button, NativeSelect, SegmentedControl, TextInput } from "@mantine/core";
import { Card } from "@/ui/Card";
import { NumberField } from "@/ui/NumberField";
import styles from "./Gardens.module.css";
import type { Columns } from "./gardens";
import type { Form } from "./useGardens";

export interface ColumnFieldsProps {
	form: Form;
	heads: string[];
	ask: (form: Form) => void;
}

const FIELDS = [
	["garden", "Garden"],
	["start", "Day it began"],
	["date", "Day it was looked at"],
	["count", "How many of each"],
	["status", "Remarks (withdrew …)"],
] as const;

/** Which column is what; the choice is kept for the next form with these headings. */
export function ColumnFields({ form, heads, ask }: ColumnFieldsProps) {
	const { columns } = form;
	const set = (change: Partial<Columns>) => ask({ ...form, columns: { ...columns, ...change } });
	const named = heads.filter((h) => h);
	const choices = [{ value: "", label: "none" }, ...named];
	const arm = (i: number, change: Partial<Columns["arms"][number]>) =>
		set({ arms: columns.arms.map((a, k) => (k === i ? { ...a, ...change } : a)) });
	return (
		<Card title="Which column is what?" aside="remembered for the next form like it">
			<SegmentedControl
				aria-label="How a garden is written"
				value={columns.isWide ? "wide" : "long"}
				onChange={(v) => set({ isWide: v === "wide" })}
				data={[
					{ value: "wide", label: "one row per garden" },
					{ value: "long", label: "one row per garden and treatment" },
				]}
				className={styles.kind}
			/>
			<div className={styles.fields}>
				{FIELDS.map(([field, label]) => (
					<NativeSelect
						key={field}
						label={label}
						value={columns[field]}
						data={choices}
						onChange={(e) => set({ [field]: e.currentTarget.value })}
					/>
				))}
				<NumberField
					label="Last day, from its start"
					placeholder="as sent"
					isWhole
					min={1}
					max={730}
					value={form.days}
					onChange={(days) => ask({ ...form, days })}
				/>
				<NumberField
					label="Gardens that joined"
					placeholder="those in the form"
					isWhole
					min={1}
					max={100_000}
					value={form.enrolled}
					onChange={(enrolled) => ask({ ...form, enrolled })}
				/>
				<NativeSelect
					label="They set"
					value={form.kind}
					data={[
						{ value: "cutting", label: "cuttings, bulbs or divisions" },
						{ value: "seed", label: "seeds" },
					]}
					onChange={(e) => ask({ ...form, kind: e.currentTarget.value as Form["kind"] })}
				/>
				{!columns.isWide && (
					<>
						<NativeSelect
							label="Treatment"
							value={columns.treatment}
							data={choices}
							onChange={(e) => set({ treatment: e.currentTarget.value })}
						/>
						<NativeSelect
							label="How many came up or rooted"
							value={columns.struck}
							data={choices}
							onChange={(e) => set({ struck: e.currentTarget.value })}
						/>
					</>
				)}
			</div>
			{columns.isWide && (
				<>
					<h3>Results of each treatment</h3>
					{columns.arms.map((a, i) => (
						<div key={i} className={styles.fields}>
							<NativeSelect
								label={`Column of treatment ${i + 1}`}
								value={a.column}
								data={choices}
								onChange={(e) => arm(i, { column: e.currentTarget.value })}
							/>
							<TextInput
								label="Name of the treatment"
								placeholder={a.column}
								maxLength={80}
								value={a.name}
								onChange={(e) => arm(i, { name: e.currentTarget.value })}
							/>
						</div>
					))}
					<Button
						variant="default"
						size="compact-md"
						onClick={() => set({ arms: [...columns.arms, { name: "", column: "" }] })}
					>
						Add treatment
					</Button>
				</>
			)}
		</Card>
	);
}
