import { NativeSelect } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Trial } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { codedStages, useStageScale } from "@/ui/reference";

/** Lanes of another stage than the endpoint, and what chooses it: of containers, those that were counted. */
export function useMilestone(trial: Trial | undefined) {
	const [stage, setStage] = useState<number | null>(null);
	const ladder = useStageScale(trial?.plan);
	const single = trial?.plan.per_container === 1;
	const { data } = useQuery({
		queryKey: ofTrial(trial?.id, "milestone", stage),
		queryFn: () =>
			body(
				api.GET("/api/trials/{trial_id}/milestone", {
					params: { path: { trial_id: trial?.id ?? "" }, query: { stage: stage ?? 0 } },
				}),
			),
		enabled: stage !== null && trial !== undefined,
	});
	const plan = trial?.plan;
	const stages = codedStages(ladder).filter(
		(s) =>
			s.code > 0 && (single || s.code === plan?.endpoint || plan?.also_counted.includes(s.code)),
	);
	const choose =
		trial && stages.length > 1 ? (
			<NativeSelect
				label="Stage"
				size="sm"
				value={stage === null ? "" : `${stage}`}
				onChange={(e) => setStage(e.currentTarget.value ? Number(e.currentTarget.value) : null)}
				data={[
					{ value: "", label: `${trial.endpoint_says} (the verdict)` },
					...stages
						.filter((s) => s.code !== trial.plan.endpoint)
						.map((s) => ({ value: `${s.code}`, label: s.name.toLowerCase() })),
				]}
			/>
		) : null;
	return { milestone: stage === null ? null : (data ?? null), choose };
}
