import { NativeSelect, TextInput, UnstyledButton } from "@mantine/core";
import type { Plan, Treatment } from "@/api/client";
import { ROLE_WORDS } from "@/core/words";
import { NumberField } from "@/ui/NumberField";
import { SilkSquare } from "@/ui/SilkSquare";
import styles from "./Plan.module.css";

const ROLES = Object.entries(ROLE_WORDS).map(([value, label]) => ({ value, label }));
const AGENTS = [
	{ value: "nothing", label: "nothing" },
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

export interface TreatmentRowProps {
	plan: Plan;
	treatment: Treatment;
	index: number;
	/** The others are compared with this one. */
	isReference: boolean;
	silks: string[];
	fault: (field: string) => string | undefined;
	onChange: (change: Partial<Treatment>) => void;
	onRemove: () => void;
}

/** One arm: its name, its role, what is done, its silk; and the rest behind a fold. */
export function TreatmentRow(props: TreatmentRowProps) {
	const { treatment: t, index, isReference, silks, fault, onChange, onRemove } = props;
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
					<UnstyledButton
						className={styles.link}
						onClick={onRemove}
						aria-label={`Remove ${t.name || `treatment ${n}`}`}
					>
						Remove
					</UnstyledButton>
				</div>
				<MoreOfArm {...props} at={at} />
				{isReference && <p className={styles.reference}>The others are compared with this one</p>}
			</div>
		</div>
	);
}

function MoreOfArm({
	plan,
	treatment: t,
	isReference,
	fault,
	onChange,
	at,
}: TreatmentRowProps & { at: string }) {
	const isTypes = plan.subject === "cutting type";
	return (
		<details className={styles.more}>
			<summary>Prediction and number{isTypes ? ", cuttings per stem" : ""}</summary>
			<div className={styles.small3}>
				<Loose
					label="Your prediction, %"
					description="hidden until the results"
					value={t.prediction}
					error={fault(`${at}/prediction`)}
					onChange={(prediction) => onChange({ prediction })}
				/>
				<Loose
					label="Number of units, if different"
					description={`else ${plan.units ?? "as the plan says"}`}
					value={t.units}
					error={fault(`${at}/units`)}
					onChange={(units) => onChange({ units })}
				/>
				{((plan.per_container ?? 1) > 1 || t.per_container != null) && (
					<Loose
						label="Plants per container, if different"
						description={`else ${plan.per_container ?? "as the plan says"}`}
						value={t.per_container}
						error={fault(`${at}/per_container`)}
						onChange={(per_container) => onChange({ per_container })}
					/>
				)}
				<Loose
					label="Cuttings per stem"
					description="for the cost comparison"
					value={t.per_stem}
					error={fault(`${at}/per_stem`)}
					onChange={(per_stem) => onChange({ per_stem })}
				/>
			</div>
			{!isReference && (
				<UnstyledButton className={styles.link} onClick={() => onChange({ reference: true })}>
					Compare the others with this one
				</UnstyledButton>
			)}
		</details>
	);
}

interface LooseProps {
	label: string;
	description: string;
	value: number | null | undefined;
	error: string | undefined;
	onChange: (value: number | null) => void;
}

/** A number that may be left empty. */
function Loose({ value, onChange, ...rest }: LooseProps) {
	return <NumberField size="sm" value={value} onChange={onChange} {...rest} />;
}
