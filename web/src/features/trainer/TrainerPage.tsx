import { Button } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, body, type Schemas } from "@/api/client";
import { key } from "@/api/keys";
import { count, dayMonth } from "@/core/text";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { useReference } from "@/ui/reference";
import { Link } from "@/ui/routing";
import { Unopened } from "@/ui/Unopened";
import { Waiting } from "@/ui/Waiting";
import { DrawnRoots } from "./DrawnRoots";
import styles from "./Trainer.module.css";

const newSeed = () => Math.floor(Math.random() * 2 ** 31);

/** Drawn root systems of known make-up, scored one by one; then how the marks compare with the truth. */
export function TrainerPage() {
	const [seed, setSeed] = useState<number | null>(null);
	if (seed !== null) return <Sitting key={seed} seed={seed} onAgain={() => setSeed(newSeed())} />;
	return <Before onStart={() => setSeed(newSeed())} />;
}

function Before({ onStart }: { onStart: () => void }) {
	const { data, error } = useQuery({
		queryKey: key("sittings"),
		queryFn: () => body(api.GET("/api/trainer/sittings")),
		staleTime: 0,
	});
	return (
		<>
			<div className="page-head">
				<h1>Scorer trainer</h1>
				<Button onClick={onStart}>Start: 24 drawings</Button>
			</div>
			<p className={styles.lead}>
				Each drawing shows a root system from the side, and from below where its roots start. You
				give the 0 to 5 root score; its true score follows from its make-up and is told at the end,
				with your agreement, drift and soft spots. Nothing here touches a trial.
			</p>
			<ProblemAlert error={error} />
			<Card title="Sittings so far" aside="every scorer, the newest first">
				{!data ? (
					<Waiting shape="list" />
				) : data.length === 0 ? (
					<p>Nobody has tried yet. It takes about five minutes.</p>
				) : (
					<ul className={styles.past}>
						{data.map((t) => (
							<li key={`${t.who}${t.at}`}>
								<strong dir="auto">{t.who}</strong>, {dayMonth(t.at)}: {t.says}
							</li>
						))}
					</ul>
				)}
			</Card>
		</>
	);
}

function Sitting({ seed, onAgain }: { seed: number; onAgain: () => void }) {
	const queries = useQueryClient();
	const reference = useReference();
	const [marks, setMarks] = useState<number[]>([]);
	const drawings = useQuery({
		queryKey: key("drawings", seed),
		queryFn: () => body(api.GET("/api/trainer/drawings", { params: { query: { seed } } })),
		staleTime: Number.POSITIVE_INFINITY,
	});
	const save = useMutation({
		mutationFn: (given: number[]) =>
			body(api.POST("/api/trainer/sittings", { body: { seed, marks: given } })),
		onSuccess: () => queries.invalidateQueries({ queryKey: key("sittings") }),
	});
	const total = drawings.data?.length ?? 0;
	const isOver = total > 0 && marks.length >= total;
	const give = (score: number) => {
		if (isOver || !total) return;
		const next = [...marks, score];
		setMarks(next);
		if (next.length === total) save.mutate(next);
	};
	useEffect(() => {
		const pressed = (e: KeyboardEvent) => {
			if (/^[0-5]$/.test(e.key)) give(Number(e.key));
			else if (e.key === "Backspace" && !isOver) setMarks(marks.slice(0, -1));
		};
		window.addEventListener("keydown", pressed);
		return () => window.removeEventListener("keydown", pressed);
	});
	const shown = drawings.data?.[marks.length];
	if (!drawings.data || !reference) return <Unopened of={[drawings]} shape="cards" />;
	if (isOver || !shown) {
		return (
			<>
				<ProblemAlert error={save.error} />
				{save.error && <Button onClick={() => save.mutate(marks)}>Save again</Button>}
				{save.isPending && <Waiting shape="cards" />}
				{save.data && (
					<Result found={save.data} marks={marks} drawings={drawings.data} onAgain={onAgain} />
				)}
			</>
		);
	}
	return (
		<div className={styles.sitting}>
			<div>
				<h1>
					Drawing {marks.length + 1} of {total}
				</h1>
				<DrawnRoots drawing={shown} label={`Drawing ${marks.length + 1}`} />
			</div>
			<div role="group" aria-label="Root score" className={styles.scores}>
				{reference.score_words.map((says, score) => (
					<Button
						key={says}
						variant="default"
						size="lg"
						justify="start"
						onClick={() => give(score)}
					>
						<strong>{score}</strong>&ensp;{says}
					</Button>
				))}
				<Button
					variant="subtle"
					disabled={marks.length === 0}
					onClick={() => setMarks(marks.slice(0, -1))}
				>
					Step back (Backspace)
				</Button>
			</div>
		</div>
	);
}

interface ResultProps {
	found: Schemas["SittingOut"];
	marks: number[];
	drawings: Schemas["DrawingOut"][];
	onAgain: () => void;
}

function Result({ found, marks, drawings, onAgain }: ResultProps) {
	const off = found.truth.map((t, i) => (marks[i] ?? 0) - t);
	return (
		<>
			<div className="page-head">
				<h1>
					{found.same} of {found.n} exactly right
				</h1>
				<Button onClick={onAgain}>Another 24</Button>
			</div>
			<p className={styles.lead}>{found.says}</p>
			<Card
				title="By kind of root"
				aside="marks less truth, points; drawings without roots left out"
			>
				<ul>
					{found.by_kind.map((k) => (
						<li key={k.kind}>
							{k.kind}: {k.bias > 0 ? "+" : k.bias < 0 ? "−" : ""}
							{Math.abs(k.bias).toFixed(1)} in {count(k.n, "drawing")}
						</li>
					))}
				</ul>
			</Card>
			<h2 className={styles.lead}>Where you and the truth differ</h2>
			{off.every((o) => o === 0) && <p>Nowhere.</p>}
			<ul className={styles.missed}>
				{drawings.map(
					(d, i) =>
						off[i] !== 0 && (
							<li key={i}>
								<DrawnRoots drawing={d} label={`Drawing ${i + 1}`} />
								<p>
									You {marks[i]}, truth <strong>{found.truth[i]}</strong>
								</p>
							</li>
						),
				)}
			</ul>
			<p className={styles.lead}>
				<Link to="/library">Library</Link>
			</p>
		</>
	);
}
