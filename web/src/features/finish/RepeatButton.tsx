import { Button } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, body, type Finish } from "@/api/client";
import { listsChanged } from "@/api/keys";
import { newSeed } from "@/core/seed";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { useNavigate } from "@/ui/routing";

export interface RepeatButtonProps {
	trialId: string;
	answer: Finish["answer"];
}

/** Copies the plan as a new draft, with the number of each that the answer advises. */
export function RepeatButton({ trialId, answer }: RepeatButtonProps) {
	const queries = useQueryClient();
	const navigate = useNavigate();
	const units = answer?.units ?? null;
	const copy = useMutation({
		mutationFn: () =>
			body(
				api.POST("/api/trials/{trial_id}/copy", {
					params: { path: { trial_id: trialId } },
					body: { seed: newSeed(), units, alone: answer?.alone ?? false },
				}),
			),
		onSuccess: (trial) => {
			void listsChanged(queries);
			navigate(`/trials/${trial.id}/plan`);
		},
	});
	return (
		<div className="no-print">
			<Button loading={copy.isPending} onClick={() => copy.mutate()}>
				{units === null ? "Plan a repeat" : `Plan a repeat with ${units} of each`}
			</Button>
			<ProblemAlert error={copy.error} />
		</div>
	);
}
