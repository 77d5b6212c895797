import { Button, TextInput } from "@mantine/core";
import { useState } from "react";
import type { StageScale, Trial } from "@/api/client";
import { count, dateOfDay } from "@/core/text";
import { Card } from "@/ui/Card";
import { ChooseFile } from "@/ui/ChooseFile";
import { SheetProblem } from "@/ui/DatesAsked";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { RoundsNav } from "@/ui/RoundsNav";
import { useStageScale } from "@/ui/reference";
import { useParams } from "@/ui/routing";
import { StageDrawing } from "@/ui/StageDrawing";
import { TrialHeader } from "@/ui/TrialHeader";
import { Unopened } from "@/ui/Unopened";
import { useTrial } from "@/ui/useTrial";
import { LookGrid } from "./LookGrid";
import styles from "./Looks.module.css";
import { bringsDates, daysFrom, laidFrom, linesOf } from "./looks";
import { useLooks } from "./useLooks";

/** Every look of a trial at once: positions down, dates across, typed or pasted from a sheet. */
export function LooksPage() {
	const { trialId = "" } = useParams();
	const trial = useTrial(trialId);
	const ladder = useStageScale(trial.data?.plan);
	if (!trial.data || !ladder) return <Unopened of={[trial]} shape="tray" headed />;
	return (
		<>
			<TrialHeader trial={trial.data} />
			<RoundsNav trialId={trialId} />
			{trial.data.started_on ? (
				<Looks trial={trial.data} start={trial.data.started_on} ladder={ladder} />
			) : (
				<p>Looks can be entered once the trial has started.</p>
			)}
		</>
	);
}

function Looks({ trial, start, ladder }: { trial: Trial; start: string; ladder: StageScale }) {
	const looks = useLooks(trial.id);
	const { grid, columns, save, read, toSend } = looks;
	if (!grid) return <Unopened of={[looks.told]} shape="tray" />;
	const paste = (text: string, row: number, column: number): boolean => {
		const lines = linesOf(text);
		if (bringsDates(lines)) read.mutate({ sheet: new Blob([text]) });
		else if (lines.length > 1 || (lines[0]?.length ?? 0) > 1)
			looks.lay(laidFrom(grid, columns, row, column, lines));
		else return false;
		return true;
	};
	return (
		<Card title="All looks" aside="one row per position, one column per date">
			<MarksKey ladder={ladder} perContainer={trial.plan.per_container} />
			<div className={styles.ways}>
				<AddDate trial={trial} start={start} columns={columns} onAdd={looks.addDate} />
				<ChooseFile
					variant="default"
					accept=".csv,.tsv,.txt,.xlsx"
					onChoose={([sheet]) => sheet && read.mutate({ sheet })}
				>
					Import a sheet
				</ChooseFile>
				<Button component="a" variant="default" href={`/api/trials/${trial.id}/looks.csv`}>
					Export as CSV
				</Button>
			</div>
			<ReadSays read={read} />
			{columns.length === 0 ? (
				<p className={styles.empty}>
					No looks yet. Add the date of the first one, or paste a sheet: dates along the top,
					positions such as A1 down the side.
				</p>
			) : (
				<LookGrid trial={trial} start={start} looks={looks} onPaste={paste} />
			)}
			{columns.length === 0 && (
				<textarea
					className={styles.paste}
					aria-label="Paste a sheet here"
					placeholder="Paste a sheet here"
					rows={2}
					value=""
					onChange={() => {}}
					onPaste={(e) => {
						e.preventDefault();
						read.mutate({ sheet: new Blob([e.clipboardData.getData("text")]) });
					}}
				/>
			)}
			<div className={styles.ways}>
				<Button
					disabled={toSend.length === 0}
					loading={save.isPending}
					onClick={() => save.mutate(toSend)}
				>
					{toSend.length === 0 ? "Save looks" : `Save ${count(toSend.length, "look")}`}
				</Button>
				{toSend.length > 0 && (
					<Button variant="default" onClick={looks.discard}>
						Discard changes
					</Button>
				)}
				{looks.before.length > 0 && toSend.length === 0 && (
					<>
						<span role="status">Saved.</span>
						<Button variant="default" onClick={() => save.mutate(looks.before)}>
							Undo
						</Button>
					</>
				)}
			</div>
			<ProblemAlert error={save.error} />
			<p className="muted">
				An empty cell means nobody looked. A changed mark is kept beside the old one in the log.
			</p>
		</Card>
	);
}

/** A date for a new column: today, or any day since day 0. */
function AddDate(props: {
	trial: Trial;
	start: string;
	columns: string[];
	onAdd: (on: string) => void;
}) {
	const { trial, start, columns, onAdd } = props;
	const [on, setOn] = useState("");
	const last = dateIso(start, trial.today ?? 0);
	const day = on ? daysFrom(start, on) : null;
	const isBad = day !== null && (day < 0 || on > last);
	const isThere = columns.includes(on);
	return (
		<form
			className={styles.add}
			onSubmit={(e) => {
				e.preventDefault();
				if (on && !isBad && !isThere) {
					onAdd(on);
					setOn("");
				}
			}}
		>
			<TextInput
				type="date"
				label="Date of a look"
				min={start}
				max={last}
				value={on}
				onChange={(e) => setOn(e.currentTarget.value)}
				error={isBad}
			/>
			<Button type="submit" disabled={!on || isBad || isThere}>
				Add column
			</Button>
			{on && (
				<span role="status" className={styles.hint}>
					{isBad
						? `Choose a date from ${dateOfDay(start, 0)} to today.`
						: isThere
							? "Already a column."
							: `Day ${day}`}
				</span>
			)}
		</form>
	);
}

const dateIso = (start: string, day: number) =>
	new Date(Date.parse(`${start}T12:00Z`) + day * 86_400_000).toISOString().slice(0, 10);

/** What was read of a sheet, or why not; the order of its dates is asked here where it must be. */
function ReadSays({ read }: { read: ReturnType<typeof useLooks>["read"] }) {
	const sheet = read.variables?.sheet;
	return (
		<>
			<SheetProblem error={read.error} answer={(order) => sheet && read.mutate({ sheet, order })} />
			{read.data && (
				<p role="status">
					{count(read.data.cells.length, "look")} read from the sheet; nothing is saved yet.{" "}
					{read.data.aside.join(" ")}
				</p>
			)}
		</>
	);
}

/** What may stand in a cell. */
function MarksKey({ ladder, perContainer }: { ladder: StageScale; perContainer: number }) {
	if (perContainer > 1)
		return (
			<p>
				Write how many of the {perContainer} so far, such as <strong>3</strong>. Losses follow:{" "}
				<strong>3 lost 1 rotted</strong>.
			</p>
		);
	return (
		<details className={styles.key} open>
			<summary>What to write in a cell</summary>
			<ul>
				{[...ladder.stages, ...ladder.exits].map((k) => (
					<li key={k.key}>
						<StageDrawing name={k.drawing} size={22} /> <strong>{k.key}</strong> {k.name}
					</li>
				))}
				{ladder.outcome === "usual" && (
					<li>
						<strong>s</strong> with a shoot, as in 6s
					</li>
				)}
				<li>
					<strong>w</strong> limp
				</li>
			</ul>
		</details>
	);
}
