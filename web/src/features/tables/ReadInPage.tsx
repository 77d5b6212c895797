import { Button, Loader, NativeSelect, Textarea, TextInput } from "@mantine/core";
import { useDebouncedCallback } from "@mantine/hooks";
import type { Table } from "@/api/client";
import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { ChooseFile } from "@/ui/ChooseFile";
import { OrderButtons } from "@/ui/DatesAsked";
import { FinishBody } from "@/ui/finish/FinishBody";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import { BadRows } from "./BadRows";
import { RangesCard } from "./RangesCard";
import { SummaryCheck } from "./SummaryCheck";
import styles from "./Tables.module.css";
import { type Asked, useReadIn } from "./useReadIn";
import { Working } from "./Working";

/** A table of results from a notebook, a paper or another bench becomes a judged trial. */
export function ReadInPage() {
	const { asked, setAsked, ask, check, table, work, stop, keep, bringIn } = useReadIn();
	const choose = (file: File | undefined) => {
		if (!file) return;
		if (file.name.endsWith(".json")) {
			bringIn.mutate(file);
			return;
		}
		const name = file.name.replace(/\.[^.]+$/, "");
		ask({ file, name, unit: null, control: null, skip: [], dates: null, kind: null });
	};
	return (
		<>
			<h1 className={styles.title}>Import results</h1>
			<div className={styles.page}>
				<Card title="Type, paste or choose a file">
					<div className={styles.typed}>
						<TypedCounts ask={ask} clear={stop} />
						{!table && <HowToWrite />}
						<ChooseFile
							accept=".csv,.tsv,.txt,.xlsx,.json,text/csv"
							onChoose={([file]) => choose(file)}
						>
							Choose file
						</ChooseFile>
						{check.isPending && <Loader size="sm" role="status" aria-label="Reading" />}
						{work.rows !== undefined && !work.error && <Working rows={work.rows} onStop={stop} />}
						<ProblemAlert error={check.error ?? work.error ?? bringIn.error} />
					</div>
				</Card>
				{!table && work.rows === undefined && <SummaryCheck />}
				{asked && table?.asks_dates && (
					<AskOrder question={table.asks_dates} answer={(dates) => ask({ ...asked, dates })} />
				)}
				{asked && table && !table.asks_dates && (
					<>
						{!table.finish && <Understood table={table} asked={asked} ask={ask} />}
						{table.bad_total > 0 && <BadRows table={table} asked={asked} ask={ask} />}
						{table.problem && <ProblemAlert error={new Error(table.problem)} />}
						{table.finish && (
							<FinishBody
								finish={table.finish}
								kind={table.kind ?? "cutting"}
								act={
									<form
										className={styles.keep}
										onSubmit={(e) => {
											e.preventDefault();
											keep.mutate(asked);
										}}
									>
										<TextInput
											label="Name"
											description="with the plant in it, so that it stands on the plant’s page"
											value={asked.name}
											maxLength={120}
											required
											onChange={(e) => setAsked({ ...asked, name: e.currentTarget.value })}
										/>
										<Button type="submit" loading={keep.isPending}>
											Save
										</Button>
										<ProblemAlert error={keep.error} />
									</form>
								}
								below={
									<>
										<Understood table={table} asked={asked} ask={ask} />
										<RangesCard table={table} />
									</>
								}
							/>
						)}
					</>
				)}
			</div>
		</>
	);
}

function HowToWrite() {
	return (
		<>
			<p>
				Any table with a column for the treatment and one for how many rooted or came up is read:
				counts, 6/20, percent beside a count, yes and no, counts by day. What is unclear is asked.
				The columns <b>outcome</b>, <b>day_from</b>, <b>day_to</b>, <b>block</b>, <b>container</b>,{" "}
				<b>score</b> and <b>start</b> tell more. Nothing is saved until you press Save. A trial or a
				garden pack exported as JSON is imported directly.
			</p>
			<p>
				A form that many gardens filled in is read by its own columns:{" "}
				<Link to="/trials/gardens">Returns of many gardens</Link>.
			</p>
		</>
	);
}

interface TypedCountsProps {
	ask: (next: Asked) => void;
	clear: () => void;
}

/** Counts as one would write them in a message, or rows pasted from a sheet; judged as one types. */
function TypedCounts({ ask, clear }: TypedCountsProps) {
	const judge = useDebouncedCallback((text: string) => {
		if (!text.trim()) {
			clear();
			return;
		}
		const file = new File([text], "typed.txt");
		ask({ file, name: "", unit: null, control: null, skip: [], dates: null, kind: null });
	}, 300);
	return (
		<Textarea
			label="Counts or rows"
			description="for example: control 4 of 12, honey 9 of 12"
			autosize
			minRows={2}
			maxRows={12}
			maxLength={20_000}
			onChange={(e) => judge(e.currentTarget.value)}
		/>
	);
}

interface AskOrderProps {
	question: string;
	answer: (dates: NonNullable<Asked["dates"]>) => void;
}

/** Dates that could be read two ways are asked about once; nothing is read before. */
function AskOrder({ question, answer }: AskOrderProps) {
	return (
		<Card title="How are the dates written?">
			<p>{question}</p>
			<OrderButtons answer={answer} />
		</Card>
	);
}

interface PartProps {
	table: Table;
	asked: Asked;
	ask: (next: Asked) => void;
}

function Understood({ table, asked, ask }: PartProps) {
	return (
		<Card
			title="What was read"
			aside={`${count(table.rows, "good row")}; columns ${table.columns.join(", ")}${
				table.left_aside.length ? `; left aside ${table.left_aside.join(", ")}` : ""
			}`}
		>
			{table.read_as.length > 0 && (
				<ul className={styles.arms}>
					{table.read_as.map((says) => (
						<li key={says}>{says}</li>
					))}
				</ul>
			)}
			{table.ceiling && <p className="muted">{table.ceiling}</p>}
			{table.arms.length > 0 && (
				<div className={styles.choices}>
					<ul className={styles.arms}>
						{table.arms.map((a) => (
							<li key={a.name}>
								<strong dir="auto">{a.name}</strong> {a.role}: {a.struck} of {a.plants}{" "}
								{table.kind === "seed" ? "came up" : "struck"}
								{a.units === a.plants ? "" : ` in ${count(a.units, "container")}`}
							</li>
						))}
					</ul>
					<NativeSelect
						label="Which is the control?"
						value={table.control ?? ""}
						data={[
							...(table.control ? [] : [{ value: "", label: "not named yet" }]),
							...table.arms.map((a) => a.name),
						]}
						onChange={(e) => ask({ ...asked, control: e.currentTarget.value || null })}
					/>
					<NativeSelect
						label="What was randomised"
						value={asked.unit ?? table.unit ?? ""}
						data={[
							{ value: "container", label: "containers, with all plants in them" },
							{ value: "propagule", label: "single plants" },
						]}
						onChange={(e) => ask({ ...asked, unit: e.currentTarget.value as Asked["unit"] })}
					/>
					{!table.columns.includes("kind") && (
						<NativeSelect
							label="What the table holds"
							value={asked.kind ?? "cutting"}
							data={[
								{ value: "cutting", label: "cuttings, bulbs or divisions" },
								{ value: "seed", label: "seeds" },
							]}
							onChange={(e) => ask({ ...asked, kind: e.currentTarget.value as Asked["kind"] })}
						/>
					)}
				</div>
			)}
		</Card>
	);
}
