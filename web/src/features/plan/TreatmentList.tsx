import { UnstyledButton } from "@mantine/core";
import { useState } from "react";
import type { Consequences, Plan, Treatment } from "@/api/client";
import { Card } from "@/ui/Card";
import { useReference } from "@/ui/reference";
import { ArmMaker } from "./ArmMaker";
import { Offers } from "./Offers";
import styles from "./Plan.module.css";
import { addTreatment, changeTreatment, withoutTreatment, withTreatmentAt } from "./plan";
import { TreatmentRow } from "./TreatmentRow";

export interface TreatmentListProps {
	plan: Plan;
	onChange: (plan: Plan) => void;
	found: Consequences | undefined;
	fault: (field: string) => string | undefined;
}

/** What is compared: one row a treatment, and the ways to make several at once. */
export function TreatmentList({ plan, onChange, found, fault }: TreatmentListProps) {
	const [gone, setGone] = useState<{ at: number; treatment: Treatment } | null>(null);
	const [before, setBefore] = useState<Treatment[] | null>(null);
	const [way, setWay] = useState<"cross" | "ladder" | "mixture" | null>(null);
	const silks = useReference()?.silks.map((s) => s.id) ?? [];
	const cautions = found?.cautions ?? [];
	const cautionLines = [...new Map(cautions.map((c) => [c.code, c])).values()];
	return (
		<Card title="Treatments" aside="one control, and what you compare with it">
			<ol className={styles.treatments}>
				{plan.treatments.map((t, i) => (
					<li key={i}>
						<TreatmentRow
							plan={plan}
							treatment={t}
							index={i}
							isReference={found?.reference === i}
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
			<Offers plan={plan} found={found} codes={["missing_arm"]} replace={onChange} />
			<p className={styles.ways}>
				<UnstyledButton className={styles.link} onClick={() => onChange(addTreatment(plan, silks))}>
					Add treatment
				</UnstyledButton>
				{(["cross", "ladder", "mixture"] as const).map((w) => (
					<UnstyledButton
						key={w}
						className={styles.link}
						aria-expanded={way === w}
						onClick={() => setWay(way === w ? null : w)}
					>
						{
							{
								cross: "Combine two factors",
								ladder: "Dose or time series",
								mixture: "Mixture series",
							}[w]
						}
					</UnstyledButton>
				))}
				{gone && (
					<UnstyledButton
						className={styles.link}
						onClick={() => {
							onChange(withTreatmentAt(plan, gone.at, gone.treatment));
							setGone(null);
						}}
					>
						Restore {gone.treatment.name || "last treatment"}
					</UnstyledButton>
				)}
				{before && (
					<UnstyledButton
						className={styles.link}
						onClick={() => {
							onChange({ ...plan, treatments: before });
							setBefore(null);
						}}
					>
						Restore previous treatments
					</UnstyledButton>
				)}
			</p>
			{way && (
				<ArmMaker
					key={way}
					way={way}
					onMade={(made) => {
						setBefore(plan.treatments);
						setWay(null);
						onChange({ ...plan, treatments: made });
					}}
				/>
			)}
			{cautionLines.map((c) => (
				<p key={c.code} className={styles.caution}>
					<strong>Caution.</strong> {c.says}
				</p>
			))}
		</Card>
	);
}
