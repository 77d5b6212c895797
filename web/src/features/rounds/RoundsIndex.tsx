import { Card } from "@/ui/Card";
import { Navigate, useLocation, useParams } from "@/ui/routing";
import { TrialHeader } from "@/ui/TrialHeader";
import { Unopened } from "@/ui/Unopened";
import { useTrial } from "@/ui/useTrial";

/** Opens the round that is due, or the last one made. */
export function RoundsIndex() {
	const { trialId } = useParams();
	const { search } = useLocation(); // a scanned label names its unit here
	const told = useTrial(trialId);
	const trial = told.data;
	if (!trial) return <Unopened of={[told]} shape="tray" headed />;
	if (trial.status === "draft" || trial.today === null) {
		return (
			<>
				<TrialHeader trial={trial} />
				<Card title="No rounds yet">
					<p>Rounds begin when the trial has started. Start it from Plan.</p>
				</Card>
			</>
		);
	}
	const made = trial.course.filter((d) => d.state === "done" || d.state === "partial");
	const isOver = trial.today > trial.plan.length_days + trial.plan.look_every_days;
	const day = isOver ? (made.at(-1)?.day ?? trial.today) : trial.today;
	return <Navigate to={`/trials/${trial.id}/rounds/${day}${search}`} replace />;
}
