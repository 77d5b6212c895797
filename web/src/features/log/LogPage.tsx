import { Button, NativeSelect, TextInput, UnstyledButton } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type LogLine, type Trial } from "@/api/client";
import { voidEntry, voidTap } from "@/api/items";
import { ofTrial, trialChanged } from "@/api/keys";
import { newId } from "@/api/outbox";
import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { NumberField } from "@/ui/NumberField";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { RoundsNav } from "@/ui/RoundsNav";
import { useParams, useSearchParams } from "@/ui/routing";
import { TrialHeader } from "@/ui/TrialHeader";
import { faultOf, Unopened } from "@/ui/Unopened";
import { useTrial } from "@/ui/useTrial";
import styles from "./Log.module.css";

const STEP = 200;
const KINDS = [
	"look",
	"count",
	"score",
	"event",
	"measure",
	"note",
	"photo",
	"second",
	"trial",
	"void",
];
const KIND_WORDS: Record<string, string> = { void: "undone", second: "second score" };
const WHEN = new Intl.DateTimeFormat(undefined, {
	day: "numeric",
	month: "short",
	hour: "2-digit",
	minute: "2-digit",
});

/** Everything ever written of a trial; nothing is lost, and what was wrong can be put right. */
export function LogPage() {
	const { trialId = "" } = useParams();
	const trial = useTrial(trialId);
	const path = { trial_id: trialId };
	const log = useQuery({
		queryKey: ofTrial(trialId, "log"),
		queryFn: () => body(api.GET("/api/trials/{trial_id}/log", { params: { path } })),
		staleTime: 0,
	});
	if (!trial.data) return <Unopened of={[trial]} shape="list" headed />;
	return (
		<>
			<TrialHeader trial={trial.data} compact />
			<RoundsNav trialId={trialId} />
			<ProblemAlert error={faultOf(log)} />
			{log.data && <Lines trial={trial.data} lines={log.data} />}
		</>
	);
}

function Lines({ trial, lines }: { trial: Trial; lines: LogLine[] }) {
	const [search] = useSearchParams();
	const [said, setSaid] = useState(search.get("unit") ?? "");
	const [kind, setKind] = useState("");
	const [day, setDay] = useState("");
	const [state, setState] = useState("");
	const [shown, setShown] = useState(STEP);
	const queries = useQueryClient();
	const back = useMutation({
		mutationFn: (line: LogLine) => takeBack(trial.id, line),
		onSuccess: () => trialChanged(queries, trial.id),
	});
	const words = said.toLowerCase();
	const found = lines.filter(
		(l) =>
			(!kind || l.kind === kind) &&
			(day === "" || l.day === Number(day)) &&
			(!state || l.state === state) &&
			(!words || `${l.unit} ${l.says} ${l.who}`.toLowerCase().includes(words)),
	);
	return (
		<div className={styles.page}>
			<Card title="Log">
				<div className={styles.filters}>
					<TextInput label="Search" value={said} onChange={(e) => setSaid(e.currentTarget.value)} />
					<NumberField
						label="Day"
						min={0}
						isWhole
						value={day === "" ? null : Number(day)}
						onChange={(v) => setDay(v === null ? "" : String(v))}
					/>
					<NativeSelect
						label="What"
						value={kind}
						onChange={(e) => setKind(e.currentTarget.value)}
						data={[
							{ value: "", label: "everything" },
							...KINDS.map((k) => ({ value: k, label: KIND_WORDS[k] ?? k })),
						]}
					/>
					<NativeSelect
						label="State"
						value={state}
						onChange={(e) => setState(e.currentTarget.value)}
						data={[{ value: "", label: "any" }, "in force", "corrected", "undone", "conflicting"]}
					/>
					<Button component="a" variant="default" href={`/api/trials/${trial.id}/log.csv`}>
						Export as CSV
					</Button>
				</div>
				<p className="muted" role="status">
					{count(found.length, "line")}
					{found.length < lines.length && ` of ${lines.length}`}
				</p>
				<ProblemAlert error={back.error} />
				{lines.length === 0 ? (
					<p>No entries yet. Every look, event and correction appears here.</p>
				) : (
					<div className={styles.scroll}>
						<table className={styles.lines}>
							<thead>
								<tr>
									<th>Day</th>
									<th>When</th>
									<th>Unit</th>
									<th>Entry</th>
									<th>Who</th>
									<th>State</th>
									<th>
										<span className="visually-hidden">Undo</span>
									</th>
								</tr>
							</thead>
							<tbody>
								{found.slice(0, shown).map((l) => (
									<tr key={l.id} className={l.state === "in force" ? "" : styles.past}>
										<td>{l.day}</td>
										<td>{WHEN.format(new Date(l.seen_at))}</td>
										<td>{l.unit}</td>
										<td dir="auto">{l.says}</td>
										<td dir="auto">{l.who}</td>
										<td>{l.state}</td>
										<td>
											{l.state === "in force" && l.kind !== "void" && l.kind !== "trial" && (
												<UnstyledButton onClick={() => back.mutate(l)}>
													Undo
													<span className="visually-hidden">
														: {l.unit} {l.says}
													</span>
												</UnstyledButton>
											)}
										</td>
									</tr>
								))}
							</tbody>
						</table>
					</div>
				)}
				{found.length > shown && (
					<Button variant="default" onClick={() => setShown(shown + STEP)}>
						Show {Math.min(STEP, found.length - shown)} more
					</Button>
				)}
			</Card>
			<MoveRound trial={trial} />
		</div>
	);
}

/** A void beside the line: what stood before it stands again. */
function takeBack(trialId: string, line: LogLine): Promise<unknown> {
	const params = { path: { trial_id: trialId } };
	const id = newId();
	if (["look", "count", "score"].includes(line.kind)) {
		const item = { ...voidTap(line.unit_id, line.id, id, line.seen_at), given: true };
		return body(
			api.POST("/api/trials/{trial_id}/observations", { params, body: { items: [item] } }),
		);
	}
	const item = { ...voidEntry(line.id, id, line.seen_at), given: true };
	return body(api.POST("/api/trials/{trial_id}/entries", { params, body: { items: [item] } }));
}

/** A round that was entered on the wrong day or tray goes where it belongs, as a whole. */
function MoveRound({ trial }: { trial: Trial }) {
	const [from, setFrom] = useState("");
	const [to, setTo] = useState("");
	const [trayFrom, setTrayFrom] = useState("");
	const [trayTo, setTrayTo] = useState("");
	const queries = useQueryClient();
	const trays = [...new Set(trial.bench.map((c) => c.tray))];
	const move = useMutation({
		mutationFn: () =>
			body(
				api.POST("/api/trials/{trial_id}/rounds/{day}/move", {
					params: { path: { trial_id: trial.id, day: Number(from) } },
					body: {
						to_day: Number(to),
						from_tray: trayFrom === "" ? null : Number(trayFrom),
						to_tray: trayTo === "" ? null : Number(trayTo),
					},
				}),
			),
		onSuccess: () => trialChanged(queries, trial.id),
	});
	const made = trial.course.filter((d) => d.state === "done" || d.state === "partial");
	if (made.length === 0) return null;
	return (
		<Card title="Move a round to another day or tray">
			<form
				className={styles.filters}
				onSubmit={(e) => {
					e.preventDefault();
					move.mutate();
				}}
			>
				<NativeSelect
					label="Entered on"
					required
					withAsterisk={false}
					value={from}
					onChange={(e) => setFrom(e.currentTarget.value)}
					data={[
						{ value: "", label: "Choose a day" },
						...made.map((d) => ({ value: String(d.day), label: `day ${d.day}` })),
					]}
				/>
				<NumberField
					label="Correct day"
					required
					withAsterisk={false}
					isWhole
					min={0}
					max={trial.today ?? 0}
					value={to === "" ? null : Number(to)}
					onChange={(v) => setTo(v === null ? "" : String(v))}
				/>
				{trays.length > 1 && (
					<>
						<TraySelect label="From tray" value={trayFrom} trays={trays} onChange={setTrayFrom} />
						<TraySelect label="To tray" value={trayTo} trays={trays} onChange={setTrayTo} />
					</>
				)}
				<Button type="submit" variant="default" loading={move.isPending}>
					Move
				</Button>
			</form>
			<ProblemAlert error={move.error} />
			{move.data && (
				<p role="status">{count(move.data.moved, "look")} moved; the log shows both.</p>
			)}
		</Card>
	);
}

interface TraySelectProps {
	label: string;
	value: string;
	trays: number[];
	onChange: (value: string) => void;
}

function TraySelect({ label, value, trays, onChange }: TraySelectProps) {
	return (
		<NativeSelect
			label={label}
			value={value}
			onChange={(e) => onChange(e.currentTarget.value)}
			data={[
				{ value: "", label: "all trays" },
				...trays.map((t) => ({ value: String(t), label: `tray ${t + 1}` })),
			]}
		/>
	);
}
