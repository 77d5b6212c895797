import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body } from "@/api/client";
import { key } from "@/api/keys";
import { type Draft, type Proposal, requestOf } from "./dryrun";

const LOOK_AGAIN = 400;

/** One dry run from its start over its progress to its end; it can be stopped and kept. */
export function useDryRun() {
	const queries = useQueryClient();
	const [id, setId] = useState<string | null>(null);
	const begin = useMutation({
		mutationFn: ({ draft, plan }: { draft: Draft; plan: Proposal }) =>
			body(api.POST("/api/dry-runs/jobs", { body: requestOf(draft, plan) })),
		onSuccess: (job) => {
			queries.setQueryData(key("dry-job", job.id), job);
			setId(job.id);
		},
	});
	const params = { path: { job_id: id ?? "" } };
	const job = useQuery({
		queryKey: key("dry-job", id),
		queryFn: () => body(api.GET("/api/dry-runs/jobs/{job_id}", { params })),
		enabled: id !== null,
		refetchInterval: (q) => (q.state.data?.state === "running" ? LOOK_AGAIN : false),
	});
	const keep = useMutation({
		mutationFn: (name: string) =>
			body(api.POST("/api/dry-runs/jobs/{job_id}/keep", { params, body: { name } })),
		onSuccess: () => queries.invalidateQueries({ queryKey: key("dry-runs") }),
	});
	return {
		begin,
		keep,
		job: id === null ? undefined : job.data,
		error: begin.error ?? job.error,
		stop: async () => {
			await api.DELETE("/api/dry-runs/jobs/{job_id}", { params });
			await job.refetch();
		},
		clear: () => setId(null),
	};
}
