import { Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { ApiProblem, api, body } from "@/api/client";
import styles from "@/ui/finish/Finish.module.css";
import { FinishBody } from "@/ui/finish/FinishBody";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { TrialHeader } from "@/ui/TrialHeader";
import { useTrial } from "@/ui/useTrial";
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
				<>
					<FinishBody finish={finish.data} kind={trial.data.plan.kind} />
					<p className={styles.takeOut}>
						<a href={`/api/trials/${trialId}/table.csv`} download>
							Take the results out as a table (CSV)
						</a>{" "}
						·{" "}
						<a href={`/api/trials/${trialId}/trial.json`} download>
							Take the whole trial out as one file (JSON)
						</a>
					</p>
				</>
			)}
		</>
	);
}
