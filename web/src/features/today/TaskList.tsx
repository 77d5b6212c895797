import { Button } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, body, type Task } from "@/api/client";
import { BLANK_ENTRY } from "@/api/items";
import { trialChanged } from "@/api/keys";
import { newId } from "@/api/outbox";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import styles from "./Today.module.css";

const WAYS: Record<string, { to: (t: Task) => string; does: string }> = {
	look: { to: () => "rounds", does: "Start round" },
	lift: { to: () => "rounds", does: "Start final scoring" },
	measure: { to: () => "rounds", does: "Open rounds" },
	job: { to: () => "rounds", does: "Open rounds" },
	soak: { to: () => "prepare", does: "Open soak schedule" },
	verdict: { to: () => "finish", does: "See results" },
	follow_up: { to: () => "log", does: "Open log" },
};
const STATES: Record<string, string> = {
	overdue: "Overdue",
	due: "Due",
	coming: "Coming up",
	open: "Open",
};

/** What is to be done, the most pressing first; open loops stay until they are closed. */
export function TaskList({ title, tasks }: { title?: string; tasks: Task[] }) {
	if (tasks.length === 0) return null;
	return (
		<section className={styles.group} aria-label={title ?? "Due"}>
			{title && <h2>{title}</h2>}
			<ul className={styles.list}>
				{tasks.map((t) => (
					<TaskRow
						key={`${t.trial_id}-${t.kind}-${t.day}-${t.ref}`}
						task={t}
						under={title ? "h2" : "h1"}
					/>
				))}
			</ul>
		</section>
	);
}

function TaskRow({ task: t, under }: { task: Task; under: "h1" | "h2" }) {
	const queries = useQueryClient();
	const close = useMutation({
		mutationFn: () =>
			body(
				api.POST("/api/trials/{trial_id}/entries", {
					params: { path: { trial_id: t.trial_id } },
					body: { items: [doneEntry(t)] },
				}),
			),
		onSuccess: () => trialChanged(queries, t.trial_id),
	});
	const way = WAYS[t.kind] ?? { to: () => "rounds", does: "Open" };
	const Title = under === "h1" ? "h2" : "h3";
	const isPressing = t.state === "due" || t.state === "overdue";
	const canClose = t.kind === "job" || t.kind === "follow_up";
	return (
		<li className={`${styles.task} ${styles[t.state] ?? ""}`}>
			<span className={styles.state}>{STATES[t.state]}</span>
			<div className={styles.what}>
				<Title dir="auto">{t.question}</Title>
				<p>
					{t.says}
					{t.invented && <span className="muted"> · invented demo data</span>}
				</p>
				<ProblemAlert error={close.error} />
			</div>
			<div className={styles.taskWays}>
				{canClose && (
					<Button variant="default" loading={close.isPending} onClick={() => close.mutate()}>
						{t.kind === "job" ? "Mark as done" : "Close"}
						<span className="visually-hidden">: {t.says}</span>
					</Button>
				)}
				<Button
					component={Link}
					to={`/trials/${t.trial_id}/${way.to(t)}`}
					variant={isPressing && !canClose ? "filled" : "default"}
					aria-label={`${way.does}: ${t.question}`}
					className={styles.go}
				>
					{way.does}
				</Button>
			</div>
		</li>
	);
}

/** The entry that says a job was done now, or that closes a follow-up. */
function doneEntry(t: Task) {
	const isJob = t.kind === "job";
	return {
		...BLANK_ENTRY,
		id: newId(),
		kind: "event" as const,
		seen_at: new Date().toISOString(),
		what: isJob ? t.ref : "closed",
		text: isJob ? "" : t.ref,
	};
}
