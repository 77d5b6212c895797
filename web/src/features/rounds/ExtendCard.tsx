import { Button } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, body, type Trial } from "@/api/client";
import { ofTrial, trialChanged } from "@/api/keys";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";

/** A look after the end: one tap extends the trial to that day, kept as an amendment. */
export function ExtendCard({ trial, day }: { trial: Trial; day: number }) {
	const queries = useQueryClient();
	const extend = useMutation({
		mutationFn: () =>
			body(
				api.POST("/api/trials/{trial_id}/amend", {
					params: { path: { trial_id: trial.id } },
					body: { change: { length_days: day }, note: "", reason: "looked at again after the end" },
				}),
			),
		onSuccess: (changed) => {
			queries.setQueryData(ofTrial(trial.id, "whole"), changed);
			void trialChanged(queries, trial.id, ["whole"]);
		},
	});
	return (
		<Card title={`Look on day ${day}?`}>
			<p>
				The last day was {trial.plan.length_days}. Extend the trial to day {day} to enter this look.
				It is kept as an amendment and shown with the result.
			</p>
			<ProblemAlert error={extend.error} />
			<Button loading={extend.isPending} onClick={() => extend.mutate()}>
				Extend the trial to day {day}
			</Button>
		</Card>
	);
}
