import { RunsOfPlan } from "@/ui/RunsOfPlan";
import { useParams } from "@/ui/routing";
import { TrialHeader } from "@/ui/TrialHeader";
import { Unopened } from "@/ui/Unopened";
import { useTrial } from "@/ui/useTrial";
import { FrozenPlan } from "./FrozenPlan";
import { GardenPack } from "./GardenPack";
import { PlanForm } from "./PlanForm";

/** The plan: edited as a draft, frozen and shown once the trial has started. */
export function PlanPage() {
	const { trialId } = useParams();
	const told = useTrial(trialId);
	const trial = told.data;
	if (!trialId) return <PlanForm key="new" trial={undefined} />;
	if (!trial) return <Unopened of={[told]} shape="cards" headed />;
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
