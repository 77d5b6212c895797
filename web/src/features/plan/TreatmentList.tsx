import { NativeSelect, TextInput } from "@mantine/core";
import { useState } from "react";
import type { Consequences, Plan, Treatment } from "@/api/client";
import { Card } from "@/ui/Card";
import { useReference } from "@/ui/reference";
import { SilkSquare } from "@/ui/SilkSquare";
import styles from "./Plan.module.css";
import { addTreatment, changeTreatment, withoutTreatment, withTreatmentAt } from "./plan";

const ROLES = [
	{ value: "control", label: "untreated control" },
	{ value: "carrier", label: "carrier control" },
	{ value: "standard", label: "standard (usual practice)" },
	{ value: "candidate", label: "candidate" },
];
const AGENTS = [
	{ value: "nothing", label: "no agent" },
	{ value: "hormone", label: "a hormone" },
	{ value: "other", label: "something else" },
];
const CARRIERS = [
	{ value: "none", label: "no carrier" },
	{ value: "alcohol", label: "in alcohol" },
	{ value: "water", label: "in water" },
	{ value: "talc", label: "in talc" },
	{ value: "gel", label: "in gel" },
];

export interface TreatmentListProps {
	plan: Plan;
	onChange: (plan: Plan) => void;
	cautions: Consequences["cautions"];
	fault: (field: string) => string | undefined;
}

/** What is compared: one row a treatment, with its role, its silk and its cautions. */
export function TreatmentList({ plan, onChange, cautions, fault }: TreatmentListProps) {
	const [gone, setGone] = useState<{ at: number; treatment: Treatment } | null>(null);
	const silks = useReference()?.silks.map((s) => s.id) ?? [];
	const cautionLines = [...new Map(cautions.map((c) => [c.code, c])).values()];
	return (
		<Card title="Treatments" aside="one untreated control, and what you hope beats it">
			<ol className={styles.treatments}>
				{plan.treatments.map((t, i) => (
					<li key={i}>
						<TreatmentRow
							treatment={t}
							index={i}
							silks={silks}
							fault={fault}
							onChange={(change) => onChange(changeTreatment(plan, i, change))}
							onRemove={() => {
								setGone({ at: i, treatment: t });
								onChange(withoutTreatment(plan, i));
							}}
						/>
					</li>
				))}
			</ol>
			{fault("treatments") && (
				<p role="alert" className={styles.fault}>
					{fault("treatments")}
				</p>
			)}
			<p>
				<button
					type="button"
					className={styles.link}
					onClick={() => onChange(addTreatment(plan, silks))}
				>
					+ add a treatment
				</button>
				{gone && (
					<button
						type="button"
						className={styles.link}
						style={{ marginLeft: 18 }}
						onClick={() => {
							onChange(withTreatmentAt(plan, gone.at, gone.treatment));
							setGone(null);
						}}
					>
						put {gone.treatment.name || "the last one"} back
					</button>
				)}
			</p>
			{cautionLines.map((c) => (
				<p key={c.code} className={styles.caution}>
					<strong>Caution.</strong> {c.says}
				</p>
			))}
		</Card>
	);
}

interface RowProps {
	treatment: Treatment;
	index: number;
	silks: string[];
	fault: (field: string) => string | undefined;
	onChange: (change: Partial<Treatment>) => void;
	onRemove: () => void;
}

function TreatmentRow({ treatment: t, index, silks, fault, onChange, onRemove }: RowProps) {
	const at = `treatments/${index}`;
	const n = index + 1;
	return (
		<div className={styles.treatment}>
			<SilkSquare id={t.silk ?? "plain"} size={36} />
			<div className={styles.treatmentFields}>
				<TextInput
					aria-label={`Name of treatment ${n}`}
					placeholder="Name, such as IBA 1000 ppm"
					value={t.name}
					error={fault(`${at}/name`)}
					onChange={(e) => onChange({ name: e.currentTarget.value })}
				/>
				<NativeSelect
					aria-label={`Role of treatment ${n}`}
					value={t.role}
					data={ROLES}
					error={fault(`${at}/role`)}
					onChange={(e) => onChange({ role: e.currentTarget.value as Treatment["role"] })}
				/>
				<TextInput
					aria-label={`What is done in treatment ${n}`}
					placeholder="What is done, how strong, how long"
					value={t.detail}
					error={fault(`${at}/detail`)}
					onChange={(e) => onChange({ detail: e.currentTarget.value })}
				/>
				<div className={styles.small}>
					<NativeSelect
						size="sm"
						aria-label={`Agent of treatment ${n}`}
						value={t.agent}
						data={AGENTS}
						onChange={(e) => onChange({ agent: e.currentTarget.value as Treatment["agent"] })}
					/>
					<NativeSelect
						size="sm"
						aria-label={`Carrier of treatment ${n}`}
						value={t.carrier}
						data={CARRIERS}
						onChange={(e) => onChange({ carrier: e.currentTarget.value as Treatment["carrier"] })}
					/>
					<NativeSelect
						size="sm"
						aria-label={`Silk of treatment ${n}`}
						value={t.silk}
						data={silks}
						error={fault(`${at}/silk`)}
						onChange={(e) => onChange({ silk: e.currentTarget.value })}
					/>
					<button
						type="button"
						className={styles.link}
						onClick={onRemove}
						aria-label={`Remove ${t.name || `treatment ${n}`}`}
					>
						remove
					</button>
				</div>
			</div>
		</div>
	);
}
