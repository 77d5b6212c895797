import { useEffect, useState } from "react";
import type { Part, PlanRead, Reference, RoundUnit } from "@/api/client";
import styles from "./Rounds.module.css";
import { proposedScore, type Tap } from "./round";
import type { PanelKeys } from "./useRoundKeys";

export interface LiftPanelProps {
	unit: RoundUnit;
	plan: PlanRead;
	reference: Reference;
	onTap: (tap: Tap) => void;
	keys: PanelKeys;
}

type Parts = Record<string, number>;

/** The lift of one plant: its parts, the score they add up to, and the score the grower gives. */
export function LiftPanel({ unit, reference, onTap, keys }: LiftPanelProps) {
	const [parts, setParts] = useState<Parts>(unit.score?.parts ?? {});
	const proposed = proposedScore(parts, reference.score_needs, reference.reached_mm);
	const save = (score: number) => onTap({ kind: "score", score, parts });
	useEffect(() => {
		keys.current = (pressed) => {
			if (/^[0-5]$/.test(pressed)) save(Number(pressed));
			else if (pressed === "Enter" && proposed !== null) save(proposed);
			else return false;
			return true;
		};
		return () => {
			keys.current = () => false;
		};
	});
	const set = (name: string, value: number | null) => {
		const { [name]: _, ...rest } = parts;
		setParts(value === null ? rest : { ...rest, [name]: value });
	};
	return (
		<>
			<h2 className={styles.unit}>
				{unit.cell.code}
				{unit.cell.label ? ` · ${unit.cell.label}` : ""}{" "}
				<small>
					{unit.score
						? `scored ${unit.score.score}`
						: unit.gone
							? "lost: counts as 0"
							: "not scored yet"}
				</small>
			</h2>
			<div className={styles.scores} role="group" aria-label="Root score">
				{reference.score_words.map((says, score) => (
					<button
						key={says}
						type="button"
						className={`${styles.scoreKey} ${unit.score?.score === score ? styles.on : ""} ${proposed === score ? styles.endpoint : ""}`}
						onClick={() => save(score)}
					>
						<RootsDrawing score={score} />
						<strong>{score}</strong>
						<span>{says}</span>
						<kbd>{score}</kbd>
					</button>
				))}
			</div>
			<p className={styles.proposed} role="status">
				{proposed === null
					? "Give roots and quarters, and their score is proposed; or give the score."
					: `Its parts make a ${proposed}. Enter takes it; you decide.`}
			</p>
			<div className={styles.parts}>
				{reference.parts.map((part) => (
					<PartField
						key={part.name}
						part={part}
						value={parts[part.name] ?? null}
						onChange={(v) => set(part.name, v)}
					/>
				))}
			</div>
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
					<button
						key={word}
						type="button"
						aria-pressed={value === i}
						onClick={() => onChange(value === i ? null : i)}
					>
						{word}
					</button>
				))}
			</fieldset>
		);
	}
	return (
		<label className={styles.part}>
			<span>
				{part.label}
				{part.unit && `, ${part.unit}`}
			</span>
			<input
				type="number"
				inputMode={part.is_whole ? "numeric" : "decimal"}
				min={0}
				max={part.most}
				step={part.is_whole ? 1 : "any"}
				value={value ?? ""}
				onChange={(e) =>
					onChange(e.currentTarget.value === "" ? null : Number(e.currentTarget.value))
				}
			/>
		</label>
	);
}

const ROOTS = [
	[],
	["M32 30Q30 42 26 46"],
	["M32 30Q24 38 20 52", "M32 30Q28 44 26 54"],
	["M32 30Q22 36 16 50", "M32 30Q28 44 27 58", "M32 30Q38 42 42 54", "M30 36Q34 44 34 54"],
	[
		"M32 30Q18 34 12 52",
		"M32 30Q24 42 22 60",
		"M32 30V62",
		"M32 30Q40 42 44 60",
		"M32 30Q46 34 52 50",
		"M22 40Q16 48 18 58",
	],
	[
		"M32 30Q14 32 6 52",
		"M32 30Q20 38 14 62",
		"M32 30Q26 46 24 64",
		"M32 30V66",
		"M32 30Q38 46 42 64",
		"M32 30Q44 38 50 62",
		"M32 30Q50 32 58 52",
		"M18 40Q12 46 10 60",
		"M46 40Q52 46 54 60",
	],
] as const;

/** A stem and its roots at one score: own drawing, the same six for every plant. */
export function RootsDrawing({ score, size = 40 }: { score: number; size?: number }) {
	return (
		<svg width={size} height={size} viewBox="0 0 64 68" aria-hidden>
			<path d="M4 24H60" stroke="var(--soil)" strokeWidth="3" />
			<path d="M32 4V34" stroke="var(--stem)" strokeWidth="5" strokeLinecap="round" />
			{(ROOTS[score] ?? []).map((d) => (
				<path
					key={d}
					d={d}
					fill="none"
					stroke="var(--root)"
					strokeWidth="3"
					strokeLinecap="round"
				/>
			))}
		</svg>
	);
}
