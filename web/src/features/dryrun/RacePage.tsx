import { Button, Loader } from "@mantine/core";
import { useLocalStorage } from "@mantine/hooks";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, body } from "@/api/client";
import { key } from "@/api/keys";
import { Card } from "@/ui/Card";
import { Lanes } from "@/ui/finish/Lanes";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import { faultOf } from "@/ui/Unopened";
import styles from "./DryRun.module.css";
import { NO_SCORE, type Score, scored, scoreSays } from "./dryrun";

const RACES = 1_000_000;

/** Read the race: is the gap real, or luck? Half of them are luck; the finish reads along. */
export function RacePage() {
	const [number, setNumber] = useState(() => Math.floor(Math.random() * RACES));
	const [score, setScore] = useLocalStorage<Score>({
		key: "racecard.races",
		defaultValue: NO_SCORE,
	});
	const race = useQuery({
		queryKey: key("race", number),
		queryFn: () => body(api.GET("/api/races/{number}", { params: { path: { number } } })),
	});
	const read = useMutation({
		mutationFn: (real: boolean) =>
			body(api.POST("/api/races/{number}", { params: { path: { number } }, body: { real } })),
		onSuccess: (was) => setScore(scored(score, was)),
	});
	const next = () => {
		read.reset();
		setNumber(Math.floor(Math.random() * RACES));
	};
	const was = read.data;
	return (
		<div className={styles.page}>
			<header className={styles.head}>
				<div>
					<h1>Real or chance?</h1>
					<p className="muted">
						Invented trials. In half, the treatment truly differs by 20 points or more. In the other
						half, chance alone made the difference. Which is this?
					</p>
				</div>
				<Link to="/dry-run">Back to dry run</Link>
			</header>
			<ProblemAlert error={faultOf(race) ?? read.error} />
			{race.data ? (
				<Lanes finish={race.data.finish} kind="cutting" />
			) : (
				<Loader role="status" aria-label="Drawing" />
			)}
			<Card title={was ? (was.right ? "Right" : "Wrong") : "Your answer"}>
				{was ? (
					<ul className={styles.says}>
						{was.says.map((s) => (
							<li key={s}>{s}</li>
						))}
					</ul>
				) : (
					<p>{race.data ? `${race.data.units} cuttings per treatment, one per pot.` : ""}</p>
				)}
				<div className={styles.buttons}>
					{was ? (
						<Button onClick={next}>Next</Button>
					) : (
						<>
							<Button disabled={!race.data} onClick={() => read.mutate(true)}>
								It is real
							</Button>
							<Button variant="default" disabled={!race.data} onClick={() => read.mutate(false)}>
								Chance
							</Button>
						</>
					)}
					<span role="status">{scoreSays(score)}</span>
					{score.read > 0 && (
						<Button variant="subtle" size="sm" onClick={() => setScore(NO_SCORE)}>
							Reset score
						</Button>
					)}
				</div>
			</Card>
		</div>
	);
}
