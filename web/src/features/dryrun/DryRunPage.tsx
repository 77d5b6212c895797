import { Button, NativeSelect } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, body } from "@/api/client";
import { key } from "@/api/keys";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import { Unopened } from "@/ui/Unopened";
import styles from "./DryRun.module.css";
import { type Draft, draftOf, type Proposal } from "./dryrun";
import { KeptRuns } from "./KeptRuns";
import { Outcome } from "./Outcome";
import { TruthForm } from "./TruthForm";
import { useDryRun } from "./useDryRun";

/** Carry a plan out a thousand times under truths you set, through the very same finish. */
export function DryRunPage() {
	const plans = useQuery({
		queryKey: key("dry-plans"),
		queryFn: () => body(api.GET("/api/dry-runs/plans")),
	});
	const [draft, setDraft] = useState<Draft | null>(null);
	const run = useDryRun();
	if (!plans.data) return <Unopened of={[plans]} shape="cards" />;
	const proposal = plans.data.find((p) => p.trial_id === draft?.trialId);
	const pick = (id: string) => {
		const found = plans.data.find((p) => p.trial_id === id);
		setDraft(found ? draftOf(found) : null);
		run.clear();
	};
	return (
		<div className={styles.page}>
			<header className={styles.head}>
				<div>
					<h1>Dry run (simulate a plan)</h1>
					<p className="muted">
						Simulate a plan 1,000 times with true rates you choose, and see what it would have
						claimed: how often right, how often silent, how often wrong. All seasons are invented.
					</p>
				</div>
				<Link to="/dry-run/races">Game: real difference or chance?</Link>
			</header>
			{plans.data.length === 0 ? (
				<Card title="No plan yet">
					<p>
						A simulation needs a plan. <Link to="/trials/new">Plan a trial</Link> first, then come
						back before anything is cut.
					</p>
				</Card>
			) : (
				<Card title="Plan to simulate">
					<NativeSelect
						label="Plan"
						value={draft?.trialId ?? ""}
						onChange={(e) => pick(e.currentTarget.value)}
						data={[
							{ value: "", label: "choose a plan" },
							...plans.data.map((p) => ({ value: p.trial_id, label: p.question })),
						]}
					/>
					{draft && proposal && <TruthForm draft={draft} plan={proposal} onChange={setDraft} />}
					{draft && proposal && <Controls draft={draft} plan={proposal} run={run} />}
				</Card>
			)}
			{run.job?.carried && (
				<Outcome
					carried={run.job.carried}
					stopped={run.job.state === "stopped"}
					at={`jobs/${run.job.id}`}
					keep={run.keep}
				/>
			)}
			<KeptRuns />
		</div>
	);
}

interface ControlsProps {
	draft: Draft;
	plan: Proposal;
	run: ReturnType<typeof useDryRun>;
}

function Controls({ draft, plan, run }: ControlsProps) {
	const job = run.job;
	const isRunning = job?.state === "running";
	return (
		<>
			<div className={styles.buttons}>
				<Button
					loading={run.begin.isPending}
					disabled={isRunning}
					onClick={() => run.begin.mutate({ draft, plan })}
				>
					Simulate {draft.seasons.toLocaleString()} times
				</Button>
				{isRunning && (
					<Button variant="default" onClick={() => run.stop()}>
						Stop
					</Button>
				)}
				{isRunning && (
					<label className={styles.progress}>
						<progress max={job.of} value={job.done} aria-label="Simulations done" />
						{job.done} of {job.of}
					</label>
				)}
			</div>
			<ProblemAlert error={run.error} />
		</>
	);
}
