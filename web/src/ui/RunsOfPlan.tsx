import { Button } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { api, body } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { monthOf } from "@/core/text";
import { Link } from "@/ui/routing";
import { Card } from "./Card";
import { ForestMark } from "./ForestMark";
import styles from "./RunsOfPlan.module.css";

/** The runs of a trial's plan, and what it changes against the one it repeats; nothing where it stands alone. */
export function RunsOfPlan({ trialId, revision }: { trialId: string; revision: number }) {
	const { data } = useQuery({
		queryKey: ofTrial(trialId, "runs", revision),
		queryFn: () =>
			body(api.GET("/api/trials/{trial_id}/runs", { params: { path: { trial_id: trialId } } })),
		staleTime: 0,
	});
	if (!data || data.runs.length < 2) return null;
	const ready = data.runs.filter((r) => r.line.state === "finished").map((r) => r.line.trial);
	return (
		<Card
			className={styles.card}
			title="Runs of this plan"
			aside={`${data.runs.length} runs, ${data.finished} finished`}
		>
			{data.repeat && (
				<>
					<p>{data.repeat.says}</p>
					{[...data.repeat.changes, ...data.repeat.neutral].length > 0 && (
						<ul className={styles.changes}>
							{data.repeat.changes.map((d) => (
								<li key={d.label}>
									<strong>{d.label}</strong>: {d.one} before, {d.other} now
								</li>
							))}
							{data.repeat.neutral.length > 0 && (
								<li className="muted">
									Also different, without changing what is done to the plants:{" "}
									{data.repeat.neutral.map((d) => d.label.toLowerCase()).join(", ")}.
								</li>
							)}
						</ul>
					)}
				</>
			)}
			<ol className={styles.runs}>
				{data.runs.map(({ number, line: x, here }) => (
					<li key={x.trial}>
						<span>
							{here ? (
								<strong>Run {number}, this one</strong>
							) : (
								<Link to={`/trials/${x.trial}/${x.state === "draft" ? "plan" : "finish"}`}>
									Run {number}
								</Link>
							)}{" "}
							<span className="muted">
								{x.began ? `${monthOf(x.began)} · ` : ""}
								{x.best?.grade_words ?? x.says}
							</span>
						</span>
						{x.best && <ForestMark {...x.best} />}
					</li>
				))}
			</ol>
			<div className={styles.ways}>
				{ready.length > 1 && (
					<Button
						component={Link}
						variant="default"
						to={`/trials/together?${ready.map((id) => `run=${id}`).join("&")}`}
					>
						See {ready.length} runs together
					</Button>
				)}
				<Button
					component="a"
					variant="default"
					href={`/api/trials/${trialId}/series.json`}
					download
				>
					Export all runs (JSON)
				</Button>
			</div>
		</Card>
	);
}
