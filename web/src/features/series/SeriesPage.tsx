import { Button, Checkbox, TextInput } from "@mantine/core";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Schemas } from "@/api/client";
import { key } from "@/api/keys";
import { dayMonth } from "@/core/text";
import { Card } from "@/ui/Card";
import { AnswerCard } from "@/ui/finish/AnswerCard";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link, useSearchParams } from "@/ui/routing";
import { StewardsNotes } from "@/ui/StewardsNotes";
import { faultOf } from "@/ui/Unopened";
import { useTrials } from "@/ui/useTrial";
import { Waiting } from "@/ui/Waiting";
import { RunsForest } from "./RunsForest";
import styles from "./Series.module.css";

type Choice = { id: string; name: string; says: string };

/** Runs of one plan put together: which ones, and what they come to as one. */
export function SeriesPage() {
	const [asked, setAsked] = useSearchParams();
	// the address follows what is ticked, and not the other way round: it comes a moment later
	const [chosen, setChosen] = useState(() => asked.getAll("run"));
	const { choices, fault } = useChoices();
	const found = useSeries(chosen);
	const toggle = (id: string, isOn: boolean) => {
		const next = isOn ? [...chosen, id] : chosen.filter((c) => c !== id);
		setChosen(next);
		setAsked(
			next.map((c): [string, string] => ["run", c]),
			{ replace: true },
		);
	};
	return (
		<>
			<div className="page-head">
				<h1>Put runs together</h1>
				<Button component={Link} to="/trials" variant="default">
					All trials
				</Button>
			</div>
			<p className={styles.lead}>
				Choose every run of one plan, the oldest first. They are compared inside each run; runs that
				differ in dose, plant, control or endpoint are not summed.
			</p>
			<ProblemAlert error={fault} />
			{choices ? (
				<Choices choices={choices} chosen={chosen} onToggle={toggle} />
			) : (
				<Waiting shape="list" />
			)}
			{chosen.length < 2 ? (
				<p className={styles.empty}>
					Choose two runs or more, and what they show together stands here.
				</p>
			) : (
				<>
					<ProblemAlert error={faultOf(found)} />
					{found.isPending && <Waiting shape="list" />}
					{found.data && <Result series={found.data} />}
				</>
			)}
		</>
	);
}

const MOST_SHOWN = 30;

interface ChoicesProps {
	choices: Choice[];
	chosen: string[];
	onToggle: (id: string, isOn: boolean) => void;
}

function Choices({ choices, chosen, onToggle }: ChoicesProps) {
	const [text, setText] = useState("");
	const wanted = text.trim().toLowerCase();
	const shown = choices.filter(
		(c) => chosen.includes(c.id) || !wanted || c.name.toLowerCase().includes(wanted),
	);
	if (choices.length === 0)
		return (
			<p className={styles.empty}>
				Nothing is finished yet. A trial can be put together with others once its treatments are
				shown.
			</p>
		);
	return (
		<Card title="Runs" aside="finished trials and imported results">
			{choices.length > 8 && (
				<TextInput
					label="Search"
					value={text}
					onChange={(e) => setText(e.currentTarget.value)}
					mb="sm"
				/>
			)}
			<ul className={styles.choices}>
				{shown.slice(0, MOST_SHOWN).map((c) => (
					<li key={c.id}>
						<Checkbox
							label={c.name}
							description={c.says}
							checked={chosen.includes(c.id)}
							onChange={(e) => onToggle(c.id, e.currentTarget.checked)}
						/>
					</li>
				))}
			</ul>
			{shown.length > MOST_SHOWN && (
				<p className="muted">And {shown.length - MOST_SHOWN} more: search for them.</p>
			)}
		</Card>
	);
}

function Result({ series }: { series: Schemas["SeriesOut"] }) {
	return (
		<>
			{series.answer && <AnswerCard answer={series.answer} />}
			{series.treatments.map((t) => (
				<RunsForest key={t.treatment} arm={t} control={series.control} />
			))}
			<StewardsNotes notes={series.notes} none="No objections to these runs." />
		</>
	);
}

/** Everything that can be a run: trials that are finished, and tables. */
function useChoices() {
	const trials = useTrials();
	const tables = useQuery({
		queryKey: key("tables"),
		queryFn: () => body(api.GET("/api/tables")),
	});
	const choices =
		trials.data && tables.data
			? [
					...trials.data
						.filter((t) => t.finished && !t.fault)
						.map((t) => ({ id: t.id, name: t.question, says: t.material })),
					...tables.data.map((t) => ({
						id: t.id,
						name: t.name,
						says: `imported ${dayMonth(t.created_at)}`,
					})),
				]
			: undefined;
	return { choices, fault: faultOf(trials, tables) };
}

function useSeries(runs: string[]) {
	return useQuery({
		queryKey: key("series", ...runs),
		enabled: runs.length >= 2,
		retry: false,
		queryFn: ({ signal }) => body(api.POST("/api/series", { body: { runs }, signal })),
		placeholderData: keepPreviousData,
	});
}
