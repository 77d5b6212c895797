import { Button } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { TODAY } from "@/api/asked";
import type { TrialLine } from "@/api/client";
import { count } from "@/core/text";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import { faultOf, Unopened } from "@/ui/Unopened";
import { useTrials } from "@/ui/useTrial";
import { Waiting } from "@/ui/Waiting";
import { TaskList } from "./TaskList";
import styles from "./Today.module.css";
import { TrialRow } from "./TrialRow";

/** Most sheds hold something: what an empty one shows is loaded when it is shown. */
const EmptyShed = lazy(async () => ({ default: (await import("./EmptyShed")).EmptyShed }));

/** Running trials with their day and what is due; the way in where there are none yet. */
export function TodayPage() {
	const trials = useTrials();
	const data = trials.data;
	const tasks = useQuery(TODAY);
	if (!data) return <Unopened of={[trials]} shape="list" />;
	if (data.length === 0) {
		return (
			<Suspense fallback={<Waiting shape="list" />}>
				<EmptyShed />
			</Suspense>
		);
	}
	const odd = data.filter((t) => t.fault);
	const running = data.filter((t) => t.status === "started" && !t.finished);
	const all = tasks.data ?? [];
	const now = all.filter((t) => t.kind !== "fault" && (t.state === "due" || t.state === "overdue"));
	const rounds = now.filter((t) => t.kind === "look").length;
	const drafts = data.filter((t) => t.status === "draft" && !t.fault);
	const finished = data.filter((t) => t.finished);
	return (
		<>
			<div className={styles.top}>
				<h1>{tasks.data ? todaySays(now.length, rounds) : "Today"}</h1>
				<Button component={Link} to="/trials/new" variant="default">
					New trial
				</Button>
			</div>
			<ProblemAlert error={faultOf(tasks)}>
				<p>What is due could not be asked: reload the page, or look at each trial below.</p>
			</ProblemAlert>
			<Group title="Cannot be read" trials={odd} />
			<TaskList tasks={now} />
			<TaskList title="Coming up" tasks={all.filter((t) => t.state === "coming")} />
			<TaskList title="Still open" tasks={all.filter((t) => t.state === "open")} />
			<Group title="Running" trials={running} />
			<Group title="Drafts" trials={drafts} />
			<Group title="Finished" trials={finished} />
		</>
	);
}

function todaySays(due: number, rounds: number): string {
	if (due === 0) return "Nothing due today";
	if (due === rounds) return `${count(rounds, "round")} due today`;
	return `${count(due, "thing")} due today`;
}

function Group({ title, trials }: { title?: string; trials: TrialLine[] }) {
	if (trials.length === 0) return null;
	return (
		<section className={styles.group} aria-label={title ?? "Due"}>
			{title && <h2>{title}</h2>}
			<ul className={styles.list}>
				{trials.map((t) => (
					<TrialRow key={t.id} trial={t} under={title ? "h2" : "h1"} isListed />
				))}
			</ul>
		</section>
	);
}
