import { Button } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, body, type Trial } from "@/api/client";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";

/** The curtain before a trial scored blind, and what it costs to draw it early. */
export function Sealed({ trial }: { trial: Trial }) {
	const queries = useQueryClient();
	const unseal = useMutation({
		mutationFn: () =>
			body(api.POST("/api/trials/{trial_id}/unseal", { params: { path: { trial_id: trial.id } } })),
		onSuccess: async (opened) => {
			queries.setQueryData(["trial", trial.id], opened);
			await queries.invalidateQueries({ queryKey: ["finish", trial.id] });
		},
	});
	const last = trial.plan.length_days;
	const isOver = trial.course.some((d) => d.state === "done" && d.day >= last);
	return (
		<Card title="Sealed until you draw the curtain">
			<p>
				This trial is scored blind: nobody can see which unit had which treatment, here or anywhere
				else, so that hope cannot lean on the scores.
			</p>
			<p style={{ margin: "10px 0" }}>
				{isOver
					? "The last round is made. Once unsealed, it cannot be sealed again."
					: `The last round, day ${last}, is not yet complete. Unsealing now means the rest is scored with the treatments in view, and that is recorded.`}
			</p>
			<Button
				variant={isOver ? "filled" : "default"}
				loading={unseal.isPending}
				onClick={() => unseal.mutate()}
			>
				{isOver ? "Draw the curtain: show the treatments" : "Unseal early all the same"}
			</Button>
			<ProblemAlert error={unseal.error} />
		</Card>
	);
}
