import { UnstyledButton } from "@mantine/core";
import { useImperativeHandle } from "react";
import type { Part, PlanRead, Reference, RoundUnit } from "@/api/client";
import { NumberField } from "@/ui/NumberField";
import { useUnsaved } from "@/ui/useUnsaved";
import styles from "./Rounds.module.css";
import { proposedScore, type Tap } from "./round";
import { ScoreKeys } from "./ScoreKeys";
import { UnitTitle } from "./UnitTitle";
import type { PanelKeys } from "./useRoundKeys";

export interface LiftPanelProps {
	unit: RoundUnit;
	plan: PlanRead;
	reference: Reference;
	/** Enters it; whether this device kept it. */
	onTap: (tap: Tap) => Promise<boolean>;
	keys: PanelKeys;
	/** What names the half-entered parts of this plant. */
	draft: string;
}

type Parts = Record<string, number>;

/** The lift of one plant: its parts, the score they add up to, and the score the grower gives. */
export function LiftPanel({ unit, reference, onTap, keys, draft }: LiftPanelProps) {
	const [parts, setParts, forget, isUnsaved] = useUnsaved<Parts>(
		`${draft}.lift`,
		unit.score?.parts ?? {},
	);
	const proposed = proposedScore(parts, reference.score_needs, reference.reached_mm);
	const save = (score: number) => {
		void onTap({ kind: "score", score, parts }).then((isKept) => isKept && forget());
	};
	useImperativeHandle(keys, () => (pressed: string) => {
		if (/^[0-5]$/.test(pressed)) save(Number(pressed));
		else if (pressed === "Enter" && proposed !== null) save(proposed);
		else return false;
		return true;
	});
	const set = (name: string, value: number | null) => {
		const rest = Object.entries(parts).filter(([other]) => other !== name);
		setParts(Object.fromEntries(value === null ? rest : [...rest, [name, value]]));
	};
	return (
		<>
			<UnitTitle unit={unit}>
				{unit.score
					? `scored ${unit.score.score}`
					: unit.gone
						? "lost: counts as 0"
						: "not scored yet"}
			</UnitTitle>
			<ScoreKeys
				label="Root score"
				reference={reference}
				given={unit.score?.score}
				proposed={proposed}
				onScore={save}
			/>
			<p className={styles.proposed} role="status">
				{isUnsaved && "Not saved yet. "}
				{proposed === null
					? "Enter roots and spread for a proposed score, or enter the score"
					: `Its parts make a ${proposed}. Enter takes it; you decide.`}
			</p>
			<form
				className={styles.parts}
				onSubmit={(e) => {
					e.preventDefault();
					if (proposed !== null) save(proposed);
				}}
			>
				{reference.parts.map((part) => (
					<PartField
						key={part.name}
						part={part}
						value={parts[part.name] ?? null}
						onChange={(v) => set(part.name, v)}
					/>
				))}
				<UnstyledButton
					type="submit"
					className="visually-hidden"
					tabIndex={-1}
					disabled={proposed === null}
				>
					Use proposed score
				</UnstyledButton>
			</form>
		</>
	);
}

interface PartFieldProps {
	part: Part;
	value: number | null;
	onChange: (value: number | null) => void;
}

function PartField({ part, value, onChange }: PartFieldProps) {
	if (part.choices.length > 0) {
		return (
			<fieldset className={styles.choices}>
				<legend>{part.label}</legend>
				{part.choices.map((word, i) => (
					<UnstyledButton
						key={word}
						aria-pressed={value === i}
						onClick={() => onChange(value === i ? null : i)}
					>
						{word}
					</UnstyledButton>
				))}
			</fieldset>
		);
	}
	return (
		<NumberField
			className={styles.part}
			size="sm"
			label={part.unit ? `${part.label}, ${part.unit}` : part.label}
			isWhole={part.is_whole}
			min={0}
			max={part.most}
			value={value}
			onChange={onChange}
		/>
	);
}
