import { ProblemAlert } from "@/ui/ProblemAlert";
import { RunsOfPlan } from "@/ui/RunsOfPlan";
import { useParams } from "@/ui/routing";
import { TrialHeader } from "@/ui/TrialHeader";
import { useTrial } from "@/ui/useTrial";
import { Waiting } from "@/ui/Waiting";
import { FrozenPlan } from "./FrozenPlan";
import { GardenPack } from "./GardenPack";
import { PlanForm } from "./PlanForm";

/** The plan: edited as a draft, frozen and shown once the trial has started. */
export function PlanPage() {
	const { trialId } = useParams();
	const { data: trial, error, isPending } = useTrial(trialId);
	if (!trialId) return <PlanForm key="new" trial={undefined} />;
	if (error) return <ProblemAlert error={error} />;
	if (isPending) return <Waiting shape="cards" headed />;
	const runs = <RunsOfPlan trialId={trial.id} revision={trial.revision} />;
	if (trial.status === "draft") {
		return (
			<>
				<PlanForm key={trial.id} trial={trial} />
				{runs}
				<GardenPack trial={trial} />
			</>
		);
	}
	return (
		<>
			<TrialHeader trial={trial} />
			<FrozenPlan trial={trial} />
			{runs}
			<GardenPack trial={trial} />
		</>
	);
}
