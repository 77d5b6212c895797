import { NativeSelect, UnstyledButton } from "@mantine/core";
import { useEffect, useState } from "react";
import type { PlanRead, RoundUnit, StageScale } from "@/api/client";
import { useUnsaved } from "@/ui/useUnsaved";
import styles from "./Rounds.module.css";
import { countFault, startCounts, type Tap } from "./round";
import { UnitTitle } from "./UnitTitle";
import type { PanelKeys } from "./useRoundKeys";

export interface CountPanelProps {
	unit: RoundUnit;
	plan: PlanRead;
	ladder: StageScale;
	/** Numbers are those new since the last look, not all so far. */
	byNew: boolean;
	onTap: (tap: Tap) => void;
	keys: PanelKeys;
	/** What names the half-entered counts of this container. */
	draft: string;
}

type Field = "struck" | "lost" | "lost_struck" | "removed";

const PAD = ["1", "2", "3", "4", "5", "6", "7", "8", "9", "⌫", "0", "↵"];

/** Counts of a container of many: all that ever came up, and what was lost. */
export function CountPanel({ unit, plan, ladder, byNew, onTap, keys, draft }: CountPanelProps) {
	const [counts, setCounts, forget, isUnsaved] = useUnsaved(`${draft}.count`, startCounts(unit));
	const [field, setField] = useState<Field>("struck");
	const [isFresh, setFresh] = useState(true);
	const [warned, setWarned] = useState<string | null>(null);
	const had = startCounts({ ...unit, current: null });
	const shownIn = (f: Field) => (byNew ? counts[f] - had[f] : counts[f]);
	const otherIn = (f: Field) =>
		byNew ? `${counts[f]} in all` : `${signed(counts[f] - had[f])} new`;
	const endpoint =
		ladder.stages.find((s) => s.code === plan.endpoint)?.name.toLowerCase() ?? "struck";
	const ending = endpoint.endsWith("ed") ? endpoint.replace(/ed$/, "ing") : `“${endpoint}”`;
	const labels: Record<Field, string> = {
		struck: `${endpoint[0]?.toUpperCase()}${endpoint.slice(1)} so far, of ${plan.per_container}`,
		lost: `Lost before ${ending}`,
		lost_struck: `Lost after ${ending}`,
		removed: "Removed on purpose",
	};
	const digit = (d: string) => {
		const typed = Math.min(Number(isFresh ? d : `${shownIn(field)}${d}`), 999);
		setCounts({ ...counts, [field]: byNew ? had[field] + typed : typed });
		setFresh(false);
		setWarned(null);
	};
	const rub = () => {
		const left = Math.max(0, Math.floor(shownIn(field) / 10));
		setCounts({ ...counts, [field]: byNew ? had[field] + left : left });
		setFresh(false);
	};
	const save = () => {
		const fault = countFault(counts, plan, unit.previous);
		if (fault && !(fault.mayStand && fault.says === warned)) {
			setWarned(fault.says);
			return;
		}
		const loss =
			counts.lost + counts.lost_struck > 0 ? (counts.loss ?? ladder.exits[0]?.cause ?? null) : null;
		onTap({ kind: "count", ...counts, loss });
		forget();
	};
	useEffect(() => {
		keys.current = (pressed) => {
			if (/^\d$/.test(pressed)) digit(pressed);
			else if (pressed === "Enter") save();
			else if (pressed === "Backspace" && !isFresh) rub();
			else if (pressed === "n") move();
			else return false;
			return true;
		};
		return () => {
			keys.current = () => false;
		};
	});
	const fields = Object.keys(labels) as Field[];
	const move = () => {
		setField(fields[(fields.indexOf(field) + 1) % fields.length] ?? "struck");
		setFresh(true);
	};
	return (
		<>
			<UnitTitle unit={unit}>
				{unit.previous ? `${unit.previous.struck ?? 0} on day ${unit.previous.day}` : "first count"}
				{isUnsaved && ", not saved yet"}
			</UnitTitle>
			<div className={styles.counts} role="group" aria-label="Counts">
				{fields.map((f) => (
					<UnstyledButton
						key={f}
						aria-pressed={f === field}
						className={styles.countField}
						onClick={() => {
							setField(f);
							setFresh(true);
						}}
					>
						<span>{labels[f]}</span>
						<strong>{shownIn(f)}</strong>
						<small>{otherIn(f)}</small>
					</UnstyledButton>
				))}
			</div>
			{counts.lost + counts.lost_struck > 0 && (
				<NativeSelect
					className={styles.cause}
					label="Cause of loss"
					data={ladder.exits
						.filter((e) => e.cause !== "removed")
						.map((e) => ({ value: e.cause ?? "", label: e.name }))}
					value={counts.loss ?? ladder.exits[0]?.cause ?? ""}
					onChange={(e) => setCounts({ ...counts, loss: e.currentTarget.value })}
				/>
			)}
			{warned && (
				<p role="alert" className={styles.warned}>
					{warned}
				</p>
			)}
			<div className={styles.pad}>
				{PAD.map((p) => (
					<UnstyledButton
						key={p}
						className={p === "↵" ? styles.save : undefined}
						onClick={() => (p === "⌫" ? rub() : p === "↵" ? save() : digit(p))}
					>
						{p === "↵" ? (
							"Save"
						) : p === "⌫" ? (
							<span role="img" aria-label="Delete">
								⌫
							</span>
						) : (
							p
						)}
					</UnstyledButton>
				))}
			</div>
			<p className="muted">
				Digits count, <kbd>n</kbd> goes to the next line, <kbd>Enter</kbd> saves; Enter alone: same
				as last look.
			</p>
		</>
	);
}

const signed = (n: number) => (n < 0 ? `−${-n}` : `${n}`);
