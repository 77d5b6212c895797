import { Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { ApiProblem, api, body } from "@/api/client";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { StewardsNotes } from "@/ui/StewardsNotes";
import { TrialHeader } from "@/ui/TrialHeader";
import { useTrial } from "@/ui/useTrial";
import styles from "./Finish.module.css";
import { Lanes } from "./Lanes";
import { ScoreCounts } from "./ScoreCounts";
import { Sealed } from "./Sealed";

/** Who is ahead of the control, how sure one may be, and what stands against it. */
export function FinishPage() {
	const { trialId = "" } = useParams();
	const trial = useTrial(trialId);
	const finish = useQuery({
		queryKey: ["finish", trialId],
		queryFn: () =>
			body(api.GET("/api/trials/{trial_id}/finish", { params: { path: { trial_id: trialId } } })),
	});
	if (trial.error) return <ProblemAlert error={trial.error} />;
	if (!trial.data) return <Loader aria-label="Loading" />;
	const isSealed =
		trial.data.sealed || (finish.error instanceof ApiProblem && finish.error.code === "sealed");
	return (
		<>
			<TrialHeader trial={trial.data} />
			{isSealed ? (
				<Sealed trial={trial.data} />
			) : finish.error ? (
				<ProblemAlert error={finish.error} />
			) : !finish.data ? (
				<Loader aria-label="Judging" />
			) : (
				<div className={styles.page}>
					<p className={styles.headline}>{finish.data.headline}</p>
					<Lanes finish={finish.data} plan={trial.data.plan} />
					<div className={styles.below}>
						<Card title="What this trial can say">
							<ul className={styles.says}>
								{finish.data.says.map((s) => (
									<li key={s}>{s}</li>
								))}
							</ul>
						</Card>
						<StewardsNotes notes={finish.data.notes} none="No objections." />
					</div>
					{finish.data.lanes.some((l) => l.score_counts) && <ScoreCounts finish={finish.data} />}
				</div>
			)}
		</>
	);
}
