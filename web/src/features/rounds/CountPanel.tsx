import { NativeSelect, UnstyledButton } from "@mantine/core";
import { useImperativeHandle, useState } from "react";
import type { PlanRead, RoundUnit, StageScale } from "@/api/client";
import { codedStages } from "@/ui/reference";
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
	/** Enters it; whether this device kept it. */
	onTap: (tap: Tap) => Promise<boolean>;
	keys: PanelKeys;
	/** What names the half-entered counts of this container. */
	draft: string;
}

type Whole = "struck" | "lost" | "lost_struck" | "removed";
/** One of the four numbers of every count, or the part of a stage counted beside the endpoint. */
type Field = Whole | `stage_${number}`;

const WHOLE: readonly string[] = ["struck", "lost", "lost_struck", "removed"];
type Numbers = ReturnType<typeof startCounts>;

const numberIn = (c: Numbers, f: Field) => (WHOLE.includes(f) ? c[f as Whole] : (c.parts[f] ?? 0));
const withNumber = (c: Numbers, f: Field, n: number): Numbers =>
	WHOLE.includes(f) ? { ...c, [f]: n } : { ...c, parts: { ...c.parts, [f]: n } };

const PAD = ["1", "2", "3", "4", "5", "6", "7", "8", "9", "⌫", "0", "↵"];

/** Counts of a container of many: all that ever came up, and what was lost. */
export function CountPanel({ unit, plan, ladder, byNew, onTap, keys, draft }: CountPanelProps) {
	const [counts, setCounts, forget, isUnsaved] = useUnsaved(`${draft}.count`, startCounts(unit));
	const [field, setField] = useState<Field>("struck");
	const [isFresh, setFresh] = useState(true);
	const [warned, setWarned] = useState<string | null>(null);
	const had = startCounts({ ...unit, current: null });
	const newIn = (f: Field) => numberIn(counts, f) - numberIn(had, f);
	const shownIn = (f: Field) => (byNew ? newIn(f) : numberIn(counts, f));
	const otherIn = (f: Field) =>
		byNew ? `${numberIn(counts, f)} in all` : `${signed(newIn(f))} new`;
	const typed = (n: number) =>
		setCounts(withNumber(counts, field, byNew ? numberIn(had, field) + n : n));
	const stages = codedStages(ladder)
		.filter((s) => s.code === plan.endpoint || plan.also_counted?.includes(s.code))
		.map((s) => ({ ...s, isEndpoint: s.code === plan.endpoint }));
	const endpoint =
		ladder.stages.find((s) => s.code === plan.endpoint)?.name.toLowerCase() ?? "struck";
	const ending = endpoint.endsWith("ed") ? endpoint.replace(/ed$/, "ing") : `“${endpoint}”`;
	const labels: [Field, string][] = [
		["struck", `${endpoint[0]?.toUpperCase()}${endpoint.slice(1)} so far, of ${unit.held}`],
		...stages
			.filter((s) => !s.isEndpoint)
			.map((s): [Field, string] => [`stage_${s.code}`, `${s.name} so far`]),
		["lost", `Lost before ${ending}`],
		["lost_struck", `Lost after ${ending}`],
		["removed", "Removed on purpose"],
	];
	const digit = (d: string) => {
		typed(Math.min(Number(isFresh ? d : `${shownIn(field)}${d}`), 999));
		setFresh(false);
		setWarned(null);
	};
	const rub = () => {
		typed(Math.max(0, Math.floor(shownIn(field) / 10)));
		setFresh(false);
	};
	const save = () => {
		const fault = countFault(counts, unit.held, unit.previous, stages);
		if (fault && !(fault.mayStand && fault.says === warned)) {
			setWarned(fault.says);
			return;
		}
		const loss =
			counts.lost + counts.lost_struck > 0 ? (counts.loss ?? ladder.exits[0]?.cause ?? null) : null;
		void onTap({ kind: "count", ...counts, loss }).then((isKept) => isKept && forget());
	};
	const fields = labels.map(([f]) => f);
	const move = () => {
		setField(fields[(fields.indexOf(field) + 1) % fields.length] ?? "struck");
		setFresh(true);
	};
	useImperativeHandle(keys, () => (pressed: string) => {
		if (/^\d$/.test(pressed)) digit(pressed);
		else if (pressed === "Enter") save();
		else if (pressed === "Backspace" && !isFresh) rub();
		else if (pressed === "n") move();
		else return false;
		return true;
	});
	return (
		<>
			<UnitTitle unit={unit}>
				{unit.previous ? `${unit.previous.struck ?? 0} on day ${unit.previous.day}` : "first count"}
				{isUnsaved && ", not saved yet"}
			</UnitTitle>
			<div className={styles.counts} role="group" aria-label="Counts">
				{labels.map(([f, label]) => (
					<UnstyledButton
						key={f}
						aria-pressed={f === field}
						className={styles.countField}
						onClick={() => {
							setField(f);
							setFresh(true);
						}}
					>
						<span>{label}</span>
						<strong>{shownIn(f)}</strong>
						<small>{otherIn(f)}</small>
					</UnstyledButton>
				))}
			</div>
			<p className={styles.alive} role="status">
				Alive now: {unit.held - counts.lost - counts.lost_struck - counts.removed} of {unit.held}
			</p>
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
