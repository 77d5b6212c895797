import { useParams } from "react-router";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { TrialHeader } from "@/ui/TrialHeader";
import { useTrial } from "@/ui/useTrial";
import { Waiting } from "@/ui/Waiting";
import { FrozenPlan } from "./FrozenPlan";
import { PlanForm } from "./PlanForm";

/** The plan: edited as a draft, frozen and shown once the trial has started. */
export function PlanPage() {
	const { trialId } = useParams();
	const { data: trial, error, isPending } = useTrial(trialId);
	if (!trialId) return <PlanForm key="new" trial={undefined} />;
	if (error) return <ProblemAlert error={error} />;
	if (isPending) return <Waiting shape="cards" headed />;
	if (trial.status === "draft") return <PlanForm key={trial.id} trial={trial} />;
	return (
		<>
			<TrialHeader trial={trial} />
			<FrozenPlan trial={trial} />
		</>
	);
}
