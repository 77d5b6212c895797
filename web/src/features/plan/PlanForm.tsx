import { Button } from "@mantine/core";
import { useState } from "react";
import type { Plan, Trial } from "@/api/client";
import { BaselineCard } from "@/ui/BaselineCard";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link, useLocation } from "@/ui/routing";
import { StartBox } from "@/ui/StartBox";
import { TrialHeader } from "@/ui/TrialHeader";
import { BenchCard } from "./BenchCard";
import { ClashCard } from "./ClashCard";
import { DifferencesCard } from "./DifferencesCard";
import { GatherCard } from "./GatherCard";
import { NumbersCard } from "./NumbersCard";
import styles from "./Plan.module.css";
import { PlanNotes } from "./PlanNotes";
import { PowerCard } from "./PowerCard";
import type { Draft } from "./plan";
import { QuestionCard } from "./QuestionCard";
import { TreatmentList } from "./TreatmentList";
import { Clashing, faultFor, useConsequences, useCopy, useDraft, usePlanActions } from "./usePlan";

/** One calm page, filled from top to bottom, that shows what follows as one types. */
export function PlanForm({ trial }: { trial: Trial | undefined }) {
	const { draft, isDirty, change: keep, settled } = useDraft(trial);
	const { data: found, error: checkError } = useConsequences(draft);
	const { save, start, discard } = usePlanActions(trial?.id, settled);
	const [showAll, setShowAll] = useState(false);
	const failed = save.error ?? start.error;
	const clashing = failed instanceof Clashing ? failed : undefined;
	const { state } = useLocation();
	const [refused, setRefused] = useState((state as { refused?: string } | undefined)?.refused);
	const { plan } = draft;
	/** What was refused was the plan as it stood: with the next change it is said no more. */
	const change = (next: Draft) => {
		keep(next);
		save.reset();
		start.reset();
		setRefused(undefined);
	};
	const replace = (next: Plan) => change({ ...draft, plan: next });
	const set = (part: Partial<Plan>) => replace({ ...plan, ...part });
	const fault = (field: string) => {
		const isEmpty = field === "question" || field === "material" || field.endsWith("/name");
		const said = faultFor(field, found?.faults, failed);
		return isEmpty && !showAll && said?.includes("is empty") ? undefined : said;
	};
	const card = { plan, set, replace, fault, found };
	return (
		<>
			{trial ? (
				<TrialHeader trial={{ ...trial, plan: { ...trial.plan, question: plan.question } }} />
			) : (
				<h1 className={styles.newTitle}>Plan the trial</h1>
			)}
			<div className={styles.page}>
				<div className={styles.column}>
					<QuestionCard {...card} />
					<TreatmentList plan={plan} onChange={replace} found={found} fault={fault} />
					<NumbersCard {...card} />
					<DifferencesCard plan={plan} found={found} onChange={replace} />
				</div>
				<div className={styles.column}>
					<ProblemAlert error={checkError} />
					<BenchCard {...card} draft={draft} change={change} />
					<PowerCard {...card} />
					<PlanNotes
						plan={plan}
						notes={found?.notes ?? []}
						isWhole={found?.whole ?? false}
						fault={fault}
						replace={replace}
					/>
					<GatherCard {...card} />
					{trial && <BaselineCard trial={trial} canEdit isWaiting={isDirty} />}
					{clashing && (
						<ClashCard
							clashing={clashing}
							onChosen={(chosen) => {
								change(chosen);
								save.mutate(chosen);
							}}
						/>
					)}
					<ProblemAlert
						error={
							clashing
								? null
								: (save.error ??
									start.error ??
									discard.error ??
									(refused ? new Error(refused) : null))
						}
					/>
					<div className={styles.actions}>
						<Button
							variant="default"
							loading={save.isPending}
							onClick={() => {
								setShowAll(true);
								save.mutate(draft);
							}}
						>
							{trial ? (isDirty ? "Save changes" : "Saved") : "Save draft"}
						</Button>
						<StartBox
							isSowing={plan.kind === "seed"}
							isBusy={start.isPending}
							lengthDays={plan.length_days ?? 0}
							onStart={(at) => {
								setShowAll(true);
								start.mutate({ draft, at });
							}}
						/>
						{trial && <DraftActions trial={trial} onDiscard={() => discard.mutate()} />}
					</div>
				</div>
			</div>
		</>
	);
}

function DraftActions({ trial, onDiscard }: { trial: Trial; onDiscard: () => void }) {
	const copy = useCopy(trial.id);
	return (
		<>
			<Button variant="subtle" loading={copy.isPending} onClick={() => copy.mutate()}>
				Copy plan
			</Button>
			<Button variant="subtle" component={Link} to={`/trials/${trial.id}/compare`}>
				Compare with another plan
			</Button>
			<Button variant="subtle" color="clay" onClick={onDiscard}>
				Delete draft
			</Button>
			<ProblemAlert error={copy.error} />
		</>
	);
}
