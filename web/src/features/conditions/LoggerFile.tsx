import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { body, type Schemas, type Trial } from "@/api/client";
import { trialChanged } from "@/api/keys";
import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { ChooseFile } from "@/ui/ChooseFile";
import { NumberField } from "@/ui/NumberField";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { useReference } from "@/ui/reference";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./Conditions.module.css";

type Preview = Schemas["PreviewOut"];
type Read = Schemas["FileReadOut"];

/** A file of any logger: its columns picked, its clock put right, what was kept already left out. */
export function LoggerFile({ trial }: { trial: Trial }) {
	const reference = useReference();
	const queries = useQueryClient();
	const [file, setFile] = useState<File | null>(null);
	const [place, setPlace] = useState("");
	const [time, setTime] = useState(0);
	const [columns, setColumns] = useState<Preview["columns"]>([]);
	const [offset, setOffset] = useState("0");
	const [monthFirst, setMonthFirst] = useState(false);
	const look = useMutation({
		mutationFn: (chosen: File) => send<Preview>("/api/readings/preview", { file: chosen }),
		onSuccess: (p) => {
			setTime(p.time ?? 0);
			setColumns(p.columns);
		},
	});
	const read = useMutation({
		mutationFn: () =>
			send<Read>("/api/readings/file", {
				file: file as File,
				place,
				time: String(time),
				columns: JSON.stringify(columns),
				time_zone: trial.plan.time_zone,
				offset_minutes: offset || "0",
				month_first: String(monthFirst),
			}),
		onSuccess: () => trialChanged(queries, trial.id),
	});
	const p = look.data;
	const quantities = reference?.quantities ?? [];
	const taken = (i: number) => columns.find((c) => c.index === i);
	const take = (i: number, name: string) => {
		const q = quantities.find((x) => x.name === name);
		const rest = columns.filter((c) => c.index !== i);
		setColumns(q ? [...rest, { index: i, quantity: name, unit: q.units[0] ?? "" }] : rest);
	};
	return (
		<Card title="Import a logger file">
			<ChooseFile
				variant="default"
				accept=".csv,.txt,.tsv,text/csv"
				onChoose={([chosen]) => {
					setFile(chosen ?? null);
					read.reset();
					if (chosen) look.mutate(chosen);
				}}
			>
				Choose CSV file
			</ChooseFile>
			{file && <p className="muted">{file.name}</p>}
			<ProblemAlert error={look.error} />
			{file && p && (
				<form
					onSubmit={(e) => {
						e.preventDefault();
						read.mutate();
					}}
				>
					<div className={styles.scroll}>
						<table className={styles.preview}>
							<thead>
								<tr>
									{p.header.map((h, i) => (
										<th key={i}>
											<span dir="auto">{h || `column ${i + 1}`}</span>
											<NativeSelect
												aria-label={`What is in ${h || `column ${i + 1}`}`}
												size="sm"
												mt={4}
												value={i === time ? "time" : (taken(i)?.quantity ?? "")}
												onChange={(e) => {
													const name = e.currentTarget.value;
													if (name === "time") setTime(i);
													take(i, name);
												}}
												data={[
													{ value: "", label: "ignore" },
													{ value: "time", label: "date and time" },
													...quantities.map((q) => ({ value: q.name, label: q.label })),
												]}
											/>
											{taken(i) && (
												<NativeSelect
													aria-label={`Unit of ${h}`}
													size="sm"
													mt={4}
													value={taken(i)?.unit}
													onChange={(e) => {
														const unit = e.currentTarget.value;
														setColumns(columns.map((c) => (c.index === i ? { ...c, unit } : c)));
													}}
													data={quantities.find((q) => q.name === taken(i)?.quantity)?.units ?? []}
												/>
											)}
										</th>
									))}
								</tr>
							</thead>
							<tbody>
								{p.rows.slice(0, 4).map((row) => (
									<tr key={row.join("|")}>
										{p.header.map((_, i) => (
											<td key={i}>{row[i]}</td>
										))}
									</tr>
								))}
							</tbody>
						</table>
					</div>
					<div className={styles.form}>
						<TextInput
							label="Place of the logger"
							required
							withAsterisk={false}
							maxLength={80}
							list="places"
							value={place}
							onChange={(e) => setPlace(e.currentTarget.value)}
						/>
						<NumberField
							label="Clock correction, minutes (added to every reading)"
							value={offset === "" ? null : Number(offset)}
							onChange={(v) => setOffset(v === null ? "" : String(v))}
						/>
						{p.asks_order && (
							<NativeSelect
								label="03/04 means"
								value={String(monthFirst)}
								onChange={(e) => setMonthFirst(e.currentTarget.value === "true")}
								data={[
									{ value: "false", label: "3 April" },
									{ value: "true", label: "March 4" },
								]}
							/>
						)}
						<Button type="submit" loading={read.isPending} disabled={columns.length === 0}>
							Import
						</Button>
						<WhyNot>{columns.length === 0 ? "Say what one column holds first." : ""}</WhyNot>
					</div>
					<p className="muted">Times without a zone are read in {trial.plan.time_zone}.</p>
				</form>
			)}
			<ProblemAlert error={read.error} />
			{read.data && (
				<div role="status">
					<p>
						{count(read.data.added, "reading")} kept, {count(read.data.duplicates, "duplicate")}{" "}
						left out
						{read.data.bad_count > 0 && `, ${count(read.data.bad_count, "row")} could not be read`}.
					</p>
					<ul>
						{read.data.bad.map((b) => (
							<li key={b}>{b}</li>
						))}
					</ul>
				</div>
			)}
		</Card>
	);
}

/** Posts a form with a file; the answer, or the problem it tells of. */
async function send<T>(path: string, fields: Record<string, string | File>): Promise<T> {
	const form = new FormData();
	for (const [name, value] of Object.entries(fields)) form.set(name, value);
	const response = await fetch(path, { method: "POST", body: form });
	const said = (await response.json()) as T;
	return body(Promise.resolve(response.ok ? { data: said, response } : { error: said, response }));
}
