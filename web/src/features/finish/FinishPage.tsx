import { useQuery } from "@tanstack/react-query";
import { ApiProblem, api, body, type Trial } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { FinishBody } from "@/ui/finish/FinishBody";
import { RunsOfPlan } from "@/ui/RunsOfPlan";
import { useParams } from "@/ui/routing";
import { TrialHeader } from "@/ui/TrialHeader";
import { Unopened } from "@/ui/Unopened";
import { useTrial } from "@/ui/useTrial";
import { ConclusionCard } from "./ConclusionCard";
import { ConditionsCard } from "./ConditionsCard";
import { GroupsCard } from "./GroupsCard";
import { PayoffCard } from "./PayoffCard";
import { RepeatButton } from "./RepeatButton";
import { ScorersCard } from "./ScorersCard";
import { Sealed } from "./Sealed";
import { TakeOut } from "./TakeOut";
import { useMilestone } from "./useMilestone";

/** Who is ahead of the control, how sure one may be, and what stands against it. */
export function FinishPage() {
	const { trialId = "" } = useParams();
	const trial = useTrial(trialId);
	if (!trial.data) return <Unopened of={[trial]} shape="lanes" headed />;
	return (
		<>
			<TrialHeader trial={trial.data} />
			{trial.data.sealed ? <Sealed trial={trial.data} /> : <Opened trial={trial.data} />}
		</>
	);
}

function Opened({ trial }: { trial: Trial }) {
	const params = { path: { trial_id: trial.id } };
	const finish = useQuery({
		queryKey: ofTrial(trial.id, "finish"),
		queryFn: () => body(api.GET("/api/trials/{trial_id}/finish", { params })),
	});
	const heat = useQuery({
		queryKey: ofTrial(trial.id, "heat"),
		queryFn: () => body(api.GET("/api/trials/{trial_id}/heat", { params })),
		enabled: finish.isSuccess,
	});
	const { milestone, choose } = useMilestone(trial);
	if (finish.error instanceof ApiProblem && finish.error.code === "sealed")
		return <Sealed trial={trial} />;
	if (!finish.data) return <Unopened of={[finish]} shape="lanes" label="Calculating the result" />;
	return (
		<>
			<FinishBody
				finish={finish.data}
				kind={trial.plan.kind}
				margin={trial.plan.measure === "strike" ? trial.plan.gap_points : null}
				sides={trial.plan.sides}
				heat={heat.data}
				milestone={milestone}
				act={finish.data.final && <RepeatButton trialId={trial.id} answer={finish.data.answer} />}
				chooseMilestone={choose}
				groups={trial.plan.treatments.length > 2 ? <GroupsCard trial={trial} /> : undefined}
				logOf={(code) => `/trials/${trial.id}/log?unit=${encodeURIComponent(code)}`}
			>
				<PayoffCard trialId={trial.id} finish={finish.data} kind={trial.plan.kind} />
				{finish.data.lanes.some((l) => l.score_counts) && <ScorersCard trialId={trial.id} />}
				<ConclusionCard trialId={trial.id} />
				<ConditionsCard trial={trial} />
			</FinishBody>
			<RunsOfPlan trialId={trial.id} revision={trial.revision} />
			<TakeOut trialId={trial.id} />
		</>
	);
}
