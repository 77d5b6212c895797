import { SegmentedControl } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import {
	api,
	body,
	type EntrySent,
	type PlanRead,
	type Reference,
	type Round,
	type RoundUnit,
	type Trait,
} from "@/api/client";
import type { OutboxState } from "@/api/outbox";
import { BareNumber } from "@/ui/NumberField";
import { Sheet } from "@/ui/Sheet";
import { StageDrawing } from "@/ui/StageDrawing";
import { useUnsaved } from "@/ui/useUnsaved";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./Beside.module.css";
import { BESIDE, type Beside } from "./desk";
import { PhotoField } from "./PhotoField";
import type { Tap } from "./round";
import { Refusals } from "./WaitingLine";

const NAMES: Record<Beside, string> = {
	event: "Event",
	measure: "Measures",
	harm: "Harm",
	note: "Note",
	photo: "Photo",
};

export type Written = Omit<EntrySent, "id" | "seen_at" | "given" | "device" | "who">;

export interface BesideSheetProps {
	open: Beside | null;
	onOpen: (what: Beside | null) => void;
	trialId: string;
	round: Round;
	unit: RoundUnit;
	plan: PlanRead;
	reference: Reference;
	/** What waits here, and what the shed refused: told in the sheet, where the eye is. */
	outbox: OutboxState;
	/** Gives the id it was written under. */
	onWrite: (entry: Written) => Promise<string>;
	onPhoto: (scope: string, target: string, text: string, photo: Blob) => Promise<string>;
	onTakeBack: (id: string) => Promise<void>;
	onTap: (unitId: string, tap: Tap) => void;
	/** What names the half-written forms of this plant. */
	draft: string;
}

/** What is written beside the looks, of a unit, its tray, its treatment or the whole trial. */
export function BesideSheet(props: BesideSheetProps) {
	const { open, onOpen, round, unit, plan } = props;
	const [scope, setScope] = useState("unit");
	const [done, setDone] = useState("");
	const arm = unit.cell.treatment === null ? undefined : plan.treatments[unit.cell.treatment];
	const scopes = [
		{ value: "unit", label: unit.cell.code },
		{ value: "tray", label: plan.tray_names[unit.tray] || `Tray ${unit.tray + 1}` },
		...(arm && !round.sealed ? [{ value: "arm", label: arm.name }] : []),
		{ value: "trial", label: "Whole trial" },
	];
	const target =
		{ unit: unit.id, tray: String(unit.tray), arm: String(unit.cell.treatment) }[scope] ?? "";
	/** Says it is kept only when it is; else why not stands under the tray, too. */
	const said = (kept: Promise<unknown>, says: string) =>
		kept.then(
			() => setDone(says),
			() => setDone("Not saved on this device: see the line under the tray"),
		);
	const write = async (entry: Pick<Written, "kind" | "what" | "values" | "text">) => {
		await said(
			props.onWrite({ ...entry, scope: scope as Written["scope"], target }),
			"Saved on this device",
		);
	};
	const form = { ...props, scope, target, write };
	return (
		<Sheet
			opened={open !== null}
			onClose={() => {
				setDone("");
				onOpen(null);
			}}
			title={`Beside the look, ${unit.cell.code}`}
			size="lg"
		>
			{open && (
				<div className={styles.sheet}>
					<SegmentedControl
						fullWidth
						aria-label="Kind of entry"
						value={open}
						onChange={(v) => {
							setDone("");
							onOpen(v as Beside);
						}}
						data={BESIDE.map((value) => ({ value, label: NAMES[value] }))}
					/>
					{open !== "harm" && (
						<fieldset className={styles.scope}>
							<legend>Of what</legend>
							{scopes.map((s) => (
								<button
									key={s.value}
									type="button"
									aria-pressed={scope === s.value}
									onClick={() => setScope(s.value)}
								>
									{s.label}
								</button>
							))}
						</fieldset>
					)}
					{open === "event" && <EventForm {...form} />}
					{open === "measure" && <MeasureForm {...form} />}
					{open === "harm" && (
						<HarmForm
							{...form}
							write={(e) =>
								said(
									props.onWrite({ ...e, scope: "unit", target: unit.id }),
									"Saved on this device",
								)
							}
						/>
					)}
					{open === "note" && <NoteForm {...form} />}
					{open === "photo" && (
						<PhotoField
							label={
								scope === "unit"
									? unit.cell.code
									: (scopes.find((s) => s.value === scope)?.label ?? "")
							}
							onKeep={async (text, photo) => {
								const kept = props.onPhoto(scope, target, text, photo);
								await said(kept, "Saved on this device");
								return scope === "unit" ? kept.catch(() => null) : null;
							}}
							onWrite={(entry) => props.onWrite({ ...entry, scope: "unit", target: unit.id })}
						/>
					)}
					{done && <p role="status">{done}</p>}
					<Refusals outbox={props.outbox} />
					<Written round={round} onTakeBack={(id) => void said(props.onTakeBack(id), "Undone")} />
				</div>
			)}
		</Sheet>
	);
}

interface FormProps extends BesideSheetProps {
	scope: string;
	target: string;
	write: (entry: Pick<Written, "kind" | "what" | "values" | "text">) => Promise<void>;
}

const NO_EVENT = { code: "watered", amount: "", text: "", to: "" };

function EventForm({ reference, round, unit, scope, write, draft }: FormProps) {
	const [half, set, forget] = useUnsaved(`${draft}.event`, NO_EVENT);
	const { code, amount, text, to } = half;
	const change = (part: Partial<typeof NO_EVENT>) => set({ ...half, ...part });
	const list = reference.events.filter((e) => e.by_hand || e.code === "moved");
	const event = list.find((e) => e.code === code);
	const isMove = code === "moved";
	const spot = placeOf(to, round);
	const needsText = code === "other" || code === "follow_up";
	const why =
		isMove && scope !== "unit"
			? `Only one unit is moved at a time: choose ${unit.cell.code}.`
			: isMove && spot === null
				? "Write where it goes, such as C4."
				: needsText && !text.trim()
					? "Say in your words what it was."
					: "";
	const there =
		spot &&
		round.units.find((u) => u.tray === spot.tray && u.row === spot.row && u.col === spot.col);
	const send = async () => {
		const values: Record<string, number> = isMove && spot ? spot : {};
		if (event?.amount && amount) values.amount = Number(amount);
		if (code === "follow_up" && amount) values.day = Number(amount);
		await write({ kind: "event", what: code, values, text });
		forget();
	};
	return (
		<form
			className={styles.form}
			onSubmit={(e) => {
				e.preventDefault();
				if (!why) void send();
			}}
		>
			<label>
				What happened
				<select value={code} onChange={(e) => change({ code: e.currentTarget.value })}>
					{list.map((e) => (
						<option key={e.code} value={e.code}>
							{e.name}
						</option>
					))}
				</select>
			</label>
			{event?.amount && (
				<Amount
					label={`Amount, ${event.amount} (optional)`}
					limits={event}
					value={amount}
					onChange={(v) => change({ amount: v })}
				/>
			)}
			{code === "follow_up" && (
				<Amount
					label="Day of the trial"
					limits={event}
					value={amount}
					onChange={(v) => change({ amount: v })}
				/>
			)}
			{isMove && (
				<label>
					New position, such as C4
					<input
						value={to}
						maxLength={10}
						autoCapitalize="characters"
						onChange={(e) => change({ to: e.currentTarget.value })}
					/>
				</label>
			)}
			{isMove && there && there.id !== unit.id && (
				<p>{there.cell.code} stands there: the two change places.</p>
			)}
			<label>
				In your words{needsText ? "" : " (may be left open)"}
				<input
					value={text}
					maxLength={2000}
					onChange={(e) => change({ text: e.currentTarget.value })}
				/>
			</label>
			{scope === "arm" && (
				<p className={styles.hint}>An event in one treatment only is noted in the results</p>
			)}
			<button type="submit" disabled={why !== ""} className={styles.go}>
				Save event
			</button>
			<WhyNot>{why}</WhyNot>
		</form>
	);
}

interface AmountProps {
	label: string;
	limits: Reference["events"][number] | undefined;
	value: string;
	onChange: (v: string) => void;
}

function Amount({ label, limits, value, onChange }: AmountProps) {
	return (
		<label>
			{label}
			<BareNumber
				min={limits?.least}
				max={limits?.most}
				isWhole={limits?.is_whole}
				value={value === "" ? null : Number(value)}
				onChange={(v) => onChange(v === null ? "" : String(v))}
			/>
		</label>
	);
}

/** A place as it is written on the bench, C4 or 2-C4, as numbers from 0. */
export function placeOf(
	text: string,
	round: Pick<Round, "units">,
): { tray: number; row: number; col: number } | null {
	const m = /^\s*(?:(\d+)\s*-\s*)?([a-z]{1,2})\s*(\d{1,2})\s*$/i.exec(text);
	if (!m?.[2] || !m[3]) return null;
	const row = [...m[2].toUpperCase()].reduce((sum, c) => sum * 26 + c.charCodeAt(0) - 64, 0) - 1;
	const tray = Number(m[1] ?? 1) - 1;
	const trays = Math.max(...round.units.map((u) => u.tray));
	return tray >= 0 && tray <= trays + 1 && Number(m[3]) >= 1
		? { tray, row, col: Number(m[3]) - 1 }
		: null;
}

/** What a measure in the grower's unit is times, in the unit it is kept in. */
function factorOf(t: Trait, units: Record<string, string>): number {
	return t.units.find((u) => u.name === (units[t.name] ?? t.units[0]?.name))?.factor ?? 1;
}

function MeasureForm({ reference, write, draft }: FormProps) {
	const [texts, setTexts, forget] = useUnsaved<Record<string, string>>(`${draft}.measure`, {});
	const [units, setUnits] = useState<Record<string, string>>(() =>
		JSON.parse(localStorage.getItem("racecard.units") ?? "{}"),
	);
	const filled = reference.traits.filter((t) => texts[t.name]);
	const send = async () => {
		const values: Record<string, number> = {};
		for (const t of filled) {
			values[t.name] = Number(texts[t.name]) * factorOf(t, units);
		}
		await write({ kind: "measure", what: "", values, text: "" });
		forget();
	};
	return (
		<form
			className={styles.form}
			onSubmit={(e) => {
				e.preventDefault();
				if (filled.length) void send();
			}}
		>
			<div className={styles.grid}>
				{reference.traits.map((t) => (
					<div key={t.name} className={styles.measure}>
						<label>
							{t.label}
							{t.units.length === 0 && t.unit && `, ${t.unit}`}
							<BareNumber
								isWhole={t.is_whole && t.units.length === 0}
								min={0}
								max={t.most / factorOf(t, units)}
								value={texts[t.name] ? Number(texts[t.name]) : null}
								onChange={(v) => setTexts({ ...texts, [t.name]: v === null ? "" : String(v) })}
							/>
						</label>
						{t.units.length > 0 && (
							<select
								aria-label={`Unit of ${t.label.toLowerCase()}`}
								value={units[t.name] ?? t.units[0]?.name}
								onChange={(e) => {
									const next = { ...units, [t.name]: e.currentTarget.value };
									setUnits(next);
									localStorage.setItem("racecard.units", JSON.stringify(next));
								}}
							>
								{t.units.map((u) => (
									<option key={u.name}>{u.name}</option>
								))}
							</select>
						)}
					</div>
				))}
			</div>
			<button type="submit" disabled={filled.length === 0} className={styles.go}>
				Save measures
			</button>
			<WhyNot>{filled.length === 0 ? "Fill in one measure or more." : ""}</WhyNot>
		</form>
	);
}

function HarmForm({ reference, unit, write, draft }: FormProps) {
	const [grades, setGrades, forget] = useUnsaved<Record<string, number>>(`${draft}.harm`, {});
	return (
		<form
			className={styles.form}
			onSubmit={(e) => {
				e.preventDefault();
				void write({ kind: "measure", what: "", values: grades, text: "" }).then(forget);
			}}
		>
			<p className={styles.hint}>
				Signs of harm on {unit.cell.code}: 0 none, 1 slight, 2 clear, 3 severe.
			</p>
			{reference.harms.map((h) => (
				<fieldset key={h.name} className={styles.harm}>
					<legend>{h.label}</legend>
					<StageDrawing name={h.drawing} size={46} />
					{reference.harm_words.map((word, grade) => (
						<button
							key={word}
							type="button"
							aria-pressed={grades[h.name] === grade}
							onClick={() => setGrades({ ...grades, [h.name]: grade })}
						>
							<strong>{grade}</strong> {word}
						</button>
					))}
				</fieldset>
			))}
			<button type="submit" disabled={Object.keys(grades).length === 0} className={styles.go}>
				Save event
			</button>
			<WhyNot>{Object.keys(grades).length === 0 ? "Grade one sign or more." : ""}</WhyNot>
		</form>
	);
}

function NoteForm({ trialId, scope, unit, write, onTap, draft }: FormProps) {
	const [text, setText, forget] = useUnsaved(`${draft}.note`, "");
	const [sentText, setSentText] = useState("");
	const hear = useMutation({
		mutationFn: (said: string) =>
			body(
				api.POST("/api/trials/{trial_id}/heard", {
					params: { path: { trial_id: trialId } },
					body: { text: said, unit_id: scope === "unit" ? unit.id : "" },
				}),
			),
	});
	const [settled, setSettled] = useState<string[]>([]);
	return (
		<form
			className={styles.form}
			onSubmit={(e) => {
				e.preventDefault();
				if (!text.trim()) return;
				void write({ kind: "note", what: "", values: {}, text });
				setSentText(text);
				setSettled([]);
				hear.mutate(text);
				forget();
			}}
		>
			<label>
				Note (type, or use dictation)
				<textarea
					rows={3}
					maxLength={2000}
					value={text}
					onChange={(e) => setText(e.currentTarget.value)}
				/>
			</label>
			<button type="submit" disabled={!text.trim()} className={styles.go}>
				Save note
			</button>
			<WhyNot>{text.trim() ? "" : "Write something first."}</WhyNot>
			{(hear.data ?? [])
				.filter((h) => !settled.includes(h.says))
				.map((h) => (
					<div key={h.says} className={styles.heard}>
						<p>
							“{sentText}” sounds like <strong>{h.says}</strong>. It is only a note until you say
							so.
						</p>
						<button
							type="button"
							onClick={() => {
								onTap(h.unit_id, {
									kind: "look",
									stage: h.stage ?? undefined,
									loss: h.loss ?? undefined,
								});
								setSettled([...settled, h.says]);
							}}
						>
							Save as look
						</button>
						<button type="button" onClick={() => setSettled([...settled, h.says])}>
							Keep as note
						</button>
					</div>
				))}
		</form>
	);
}

function Written({ round, onTakeBack }: { round: Round; onTakeBack: (id: string) => void }) {
	if (round.entries.length === 0) return null;
	return (
		<section aria-label="Entries in this round" className={styles.written}>
			<h3>Entries in this round</h3>
			<ul>
				{round.entries.map((e) => (
					<li key={e.id}>
						<span>
							{e.says} <span className="muted">· {e.who}</span>
						</span>
						<button type="button" onClick={() => onTakeBack(e.id)}>
							Undo<span className="visually-hidden">: {e.says}</span>
						</button>
					</li>
				))}
			</ul>
		</section>
	);
}
