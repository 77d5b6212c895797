import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Flag, type Prepare, type Trial } from "@/api/client";
import { trialChanged } from "@/api/keys";
import { Card } from "@/ui/Card";
import { Flags } from "@/ui/mixing/MixCard";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { SilkSquare } from "@/ui/SilkSquare";
import { StartBox } from "@/ui/StartBox";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./Prepare.module.css";
import type { PrepareLog } from "./usePrepare";

export interface StickCardProps {
	trial: Trial;
	found: Prepare;
	log: PrepareLog;
}

/** Day 0, and what was really set: planned against set, with the reason for every difference. */
export function StickCard({ trial, found, log }: StickCardProps) {
	const isSeed = trial.plan.kind === "seed";
	const title = isSeed ? "Sow and set day 0" : "Stick and set day 0";
	if (trial.status === "draft") {
		return <ToStart trial={trial} title={title} isSeed={isSeed} flags={saidAtStart(found)} />;
	}
	const isApart = found.start_together && found.clock.asks_day0 && found.day0 !== "first wetting";
	const otherwise = found.units.filter((u) => !u.is_set || u.late > 0 || u.lot || u.size);
	return (
		<Card title={`What was actually ${isSeed ? "sown" : "stuck"}`} aside="planned and actual">
			<table className={styles.setTable}>
				<thead>
					<tr>
						<th scope="col">Treatment</th>
						<th scope="col">planned</th>
						<th scope="col">set</th>
						<th scope="col">otherwise</th>
					</tr>
				</thead>
				<tbody>
					{found.set_by_arm.length === 0 && <AllRow found={found} />}
					{trial.plan.treatments.slice(0, found.set_by_arm.length).map((t, i) => {
						const arm = found.set_by_arm[i];
						const said = [
							...(arm?.whys ?? []),
							arm?.late ? `${arm.late} started later` : "",
							arm?.other ? `${arm.other} from another batch or size` : "",
						].filter(Boolean);
						return (
							<tr key={t.name}>
								<th scope="row">
									<SilkSquare id={t.silk} size={18} /> <span dir="auto">{t.name}</span>
								</th>
								<td>{arm?.planned}</td>
								<td>{arm?.set}</td>
								<td>{said.length > 0 ? said.join("; ") : "as planned"}</td>
							</tr>
						);
					})}
				</tbody>
			</table>
			{otherwise.length > 0 && (
				<ul className={styles.otherwise} aria-label="Differences from the plan">
					{otherwise.map((u) => (
						<li key={u.id}>
							<strong>{u.code}</strong>{" "}
							{[
								!u.is_set && "not used",
								u.late > 0 && `its day 0 is day ${u.late}`,
								u.lot && `lot: ${u.lot}`,
								u.size && `size: ${u.size}`,
								u.why,
							]
								.filter(Boolean)
								.join(", ")}{" "}
							<Button
								size="xs"
								variant="subtle"
								color="moss"
								aria-label={`Undo: ${u.code}`}
								onClick={() =>
									log.note.mutate([
										{ unit_id: u.id, is_set: true, set_at: null, why: "", lot: "", size: "" },
									])
								}
							>
								Undo
							</Button>
						</li>
					))}
				</ul>
			)}
			{isApart && !found.units.some((u) => u.late > 0) && (
				<p>
					Soaks start together, so treatments are ready at different times. Save each as it starts;
					it gets its own day 0.
				</p>
			)}
			<NoteUnit found={found} log={log} />
			<NoteMany trial={trial} log={log} isOpen={isApart} />
			<ProblemAlert error={log.note.error ?? log.many.error} />
		</Card>
	);
}

/** One row for all treatments: while they are hidden, a row for each would tell who got what. */
function AllRow({ found }: { found: Prepare }) {
	const set = found.units.filter((u) => u.is_set);
	const late = set.filter((u) => u.late > 0).length;
	return (
		<tr>
			<th scope="row">All treatments (hidden)</th>
			<td>{found.units.length}</td>
			<td>{set.length}</td>
			<td>{late > 0 ? `${late} started later` : "see below"}</td>
		</tr>
	);
}

/** What must be said of what it draws on, once more before day 0; each thing once. */
function saidAtStart(found: Prepare): Flag[] {
	const all = [...found.plant_flags, ...found.arms.flatMap((a) => a.flags)];
	return all.filter((f, i) => all.findIndex((g) => g.says === f.says) === i);
}

interface ToStartProps {
	trial: Trial;
	title: string;
	isSeed: boolean;
	flags: Flag[];
}

function ToStart({ trial, title, isSeed, flags }: ToStartProps) {
	const queries = useQueryClient();
	const start = useMutation({
		mutationFn: (at: string | null) =>
			body(
				api.POST("/api/trials/{trial_id}/start", {
					params: { path: { trial_id: trial.id } },
					body: { at },
				}),
			),
		onSuccess: () => trialChanged(queries, trial.id),
	});
	return (
		<Card title={title}>
			<p>
				When the first go in, set day 0. The plan is then locked. Note here every{" "}
				{isSeed ? "seed or pot" : "cutting"} that differs from the plan, with the reason.
			</p>
			<Flags flags={flags} />
			<div className={styles.links}>
				<StartBox
					lengthDays={trial.plan.length_days}
					isSowing={isSeed}
					isBusy={start.isPending}
					onStart={(at) => start.mutate(at)}
				/>
			</div>
			<ProblemAlert error={start.error} />
		</Card>
	);
}

const REASONS = ["ran out", "too soft", "damaged", "already rotten", "dropped", "no room"];

function NoteUnit({ found, log }: { found: Prepare; log: PrepareLog }) {
	const [unit, setUnit] = useState("");
	const [what, setWhat] = useState("not used");
	const [why, setWhy] = useState("");
	const [text, setText] = useState("");
	const isLater = what === "started later";
	const isOther = what === "another batch" || what === "another size";
	const missing =
		unit === ""
			? "Choose the unit first."
			: isLater && text === ""
				? "Say when it went in."
				: isOther && text.trim() === ""
					? "Say which."
					: !isLater && why.trim() === ""
						? "Say why."
						: "";
	const send = () => {
		const own = found.units.find((u) => u.id === unit);
		log.note.mutate(
			[
				{
					unit_id: unit,
					is_set: what !== "not used",
					set_at: isLater ? new Date(text).toISOString() : null,
					why,
					lot: what === "another batch" ? text : (own?.lot ?? ""),
					size: what === "another size" ? text : (own?.size ?? ""),
				},
			],
			{
				onSuccess: () => {
					setUnit("");
					setText("");
				},
			},
		);
	};
	return (
		<form
			className={styles.noteUnit}
			aria-label="Add a difference"
			onSubmit={(e) => {
				e.preventDefault();
				send();
			}}
		>
			<NativeSelect
				size="sm"
				label="Unit"
				value={unit}
				onChange={(e) => setUnit(e.currentTarget.value)}
				data={[
					{ value: "", label: "choose" },
					...found.units.map((u) => ({
						value: u.id,
						label: u.code === u.place ? u.code : `${u.code} at ${u.place}`,
					})),
				]}
			/>
			<NativeSelect
				size="sm"
				label="was"
				value={what}
				onChange={(e) => {
					setWhat(e.currentTarget.value);
					setText("");
				}}
				data={["not used", "started later", "another batch", "another size"]}
			/>
			{(isLater || isOther) && (
				<TextInput
					size="sm"
					label={isLater ? "Started at" : what === "another batch" ? "Batch" : "Size"}
					type={isLater ? "datetime-local" : "text"}
					value={text}
					onChange={(e) => setText(e.currentTarget.value)}
				/>
			)}
			<TextInput
				size="sm"
				label="Why"
				list="reasons"
				maxLength={200}
				value={why}
				onChange={(e) => setWhy(e.currentTarget.value)}
			/>
			<datalist id="reasons">
				{REASONS.map((r) => (
					<option key={r} value={r} />
				))}
			</datalist>
			<Button
				size="sm"
				type="submit"
				variant="default"
				disabled={missing !== ""}
				loading={log.note.isPending}
			>
				Save
			</Button>
			<WhyNot>{missing}</WhyNot>
		</form>
	);
}

interface NoteManyProps {
	trial: Trial;
	log: PrepareLog;
	isOpen: boolean;
}

/** A whole arm or tray that went in at another time than day 0. */
function NoteMany({ trial, log, isOpen }: NoteManyProps) {
	const [which, setWhich] = useState("");
	const [at, setAt] = useState("");
	const trays = Math.max(0, ...trial.bench.map((c) => c.tray)) + 1;
	const options = [
		{ value: "", label: "choose" },
		...(trial.sealed
			? []
			: trial.plan.treatments.map((t, i) => ({ value: `a${i}`, label: `all of ${t.name}` }))),
		...Array.from({ length: trays }, (_, i) => ({ value: `t${i}`, label: `tray ${i + 1}` })),
	];
	const send = (moment: string) => {
		const n = Number(which.slice(1));
		log.many.mutate(
			{
				treatment: which.startsWith("a") ? n : null,
				tray: which.startsWith("t") ? n : null,
				set_at: moment,
			},
			{ onSuccess: () => setWhich("") },
		);
	};
	return (
		<details className={styles.more} open={isOpen}>
			<summary>One treatment or tray started at another time</summary>
			<div className={styles.noteUnit}>
				<NativeSelect
					size="sm"
					label="Which"
					value={which}
					data={options}
					onChange={(e) => setWhich(e.currentTarget.value)}
				/>
				<TextInput
					size="sm"
					type="datetime-local"
					label="Started at"
					value={at}
					onChange={(e) => setAt(e.currentTarget.value)}
				/>
				<Button
					size="sm"
					variant="default"
					disabled={!which || !at}
					onClick={() => send(new Date(at).toISOString())}
				>
					Save
				</Button>
				<Button
					size="sm"
					variant="default"
					disabled={!which}
					onClick={() => send(new Date().toISOString())}
				>
					Started now
				</Button>
				<WhyNot>{which ? (at ? "" : "For another time, say when.") : "Choose which first."}</WhyNot>
			</div>
		</details>
	);
}
