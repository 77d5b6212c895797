import { Button, SegmentedControl, UnstyledButton } from "@mantine/core";
import { useState } from "react";
import type { Round } from "@/api/client";
import { Sheet } from "@/ui/Sheet";
import { BESIDE, type Beside } from "../desk";
import { Refusals } from "../WaitingLine";
import styles from "./Beside.module.css";
import { EventForm } from "./EventForm";
import type { BesideSheetProps, Written as Entry } from "./forms";
import { HarmForm } from "./HarmForm";
import { MeasureForm } from "./MeasureForm";
import { NoteForm } from "./NoteForm";
import { PhotoField } from "./PhotoField";

const NAMES: Record<Beside, string> = {
	event: "Event",
	measure: "Measures",
	harm: "Harm",
	note: "Note",
	photo: "Photo",
};

/** What is written beside the looks, of a unit, its tray, its treatment or the whole trial. */
export function BesideSheet(props: BesideSheetProps) {
	const { open, onOpen, round, unit, plan } = props;
	const [{ of, scope, done }, setState] = useState({ of: unit.id, scope: "unit", done: "" });
	if (of !== unit.id) setState({ of: unit.id, scope: "unit", done: "" });
	const setScope = (next: string) => setState((s) => ({ ...s, scope: next }));
	const setDone = (says: string) => setState((s) => ({ ...s, done: says }));
	const arm = unit.cell.treatment === null ? undefined : plan.treatments[unit.cell.treatment];
	const scopes = [
		{ value: "unit", label: unit.cell.code },
		{ value: "tray", label: plan.tray_names[unit.tray] || `Tray ${unit.tray + 1}` },
		...(arm && !round.sealed ? [{ value: "arm", label: arm.name }] : []),
		{ value: "trial", label: "Whole trial" },
	];
	const target =
		{ unit: unit.id, tray: String(unit.tray), arm: String(unit.cell.treatment) }[scope] ?? "";
	/** Says it is kept only when it is, else why not; gives what it was kept as, or null. */
	const said = <T,>(kept: Promise<T>, says = "Saved on this device"): Promise<T | null> =>
		kept.then(
			(got) => {
				setDone(says);
				return got;
			},
			(error: Error) => {
				setDone(error.message);
				return null;
			},
		);
	const write = async (entry: Pick<Entry, "kind" | "what" | "values" | "text">) =>
		(await said(props.onWrite({ ...entry, scope: scope as Entry["scope"], target }))) !== null;
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
								<UnstyledButton
									key={s.value}
									aria-pressed={scope === s.value}
									onClick={() => setScope(s.value)}
								>
									{s.label}
								</UnstyledButton>
							))}
						</fieldset>
					)}
					{open === "event" && <EventForm {...form} />}
					{open === "measure" && <MeasureForm {...form} />}
					{open === "harm" && (
						<HarmForm
							{...form}
							write={async (e) =>
								(await said(props.onWrite({ ...e, scope: "unit", target: unit.id }))) !== null
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
							canMeasure={scope === "unit"}
							onKeep={(text, photo) => said(props.onPhoto(scope, target, text, photo))}
							onWrite={(entry) => said(props.onWrite({ ...entry, scope: "unit", target: unit.id }))}
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
						<Button variant="default" onClick={() => onTakeBack(e.id)}>
							Undo<span className="visually-hidden">: {e.says}</span>
						</Button>
					</li>
				))}
			</ul>
		</section>
	);
}
