import { Button } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, body, type Trial } from "@/api/client";
import { ofTrial, trialChanged } from "@/api/keys";
import { Card } from "@/ui/Card";
import { Curtain } from "@/ui/finish/Curtain";
import { ProblemAlert } from "@/ui/ProblemAlert";

/** The curtain before a trial scored blind: blind lanes first, and what drawing it early costs. */
export function Sealed({ trial }: { trial: Trial }) {
	const queries = useQueryClient();
	const last = trial.plan.length_days;
	const isOver = trial.course.some((d) => d.state === "done" && d.day >= last);
	const params = { path: { trial_id: trial.id } };
	const blind = useQuery({
		queryKey: ofTrial(trial.id, "blind-lanes"),
		queryFn: () => body(api.GET("/api/trials/{trial_id}/blind-lanes", { params })),
		enabled: isOver,
	});
	const unseal = useMutation({
		mutationFn: () => body(api.POST("/api/trials/{trial_id}/unseal", { params })),
		onSuccess: async (opened) => {
			queries.setQueryData(ofTrial(trial.id, "whole"), opened);
			await trialChanged(queries, trial.id, ["whole"]);
		},
	});
	return (
		<div style={{ display: "grid", gap: 14 }}>
			<Card title="Treatments hidden">
				<p>
					This trial is scored blind: nobody can see which unit had which treatment, here or
					anywhere else, so that hope cannot lean on the scores.
				</p>
				<p style={{ margin: "10px 0" }}>
					{isOver
						? "The last round is made. Below is how the race went, lane by lane, without a name. Guess first; once unsealed, it cannot be sealed again."
						: `The last round, day ${last}, is not yet complete. Unsealing now means the rest is scored with the treatments in view, and that is recorded.`}
				</p>
				<Button
					variant={isOver ? "filled" : "default"}
					loading={unseal.isPending}
					onClick={() => unseal.mutate()}
				>
					{isOver ? "Show treatments" : "Show early anyway"}
				</Button>
				<ProblemAlert error={unseal.error} />
			</Card>
			{blind.data && (
				<Card title="Results without names" aside="lanes in random order">
					<Curtain lanes={blind.data} lastDay={last} />
				</Card>
			)}
		</div>
	);
}
