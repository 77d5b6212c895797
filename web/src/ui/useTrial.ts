import { useQuery } from "@tanstack/react-query";
import { api, body } from "@/api/client";

/** One trial with its course and bench. */
export function useTrial(id: string | undefined) {
	return useQuery({
		queryKey: ["trial", id],
		enabled: id !== undefined,
		queryFn: () =>
			body(api.GET("/api/trials/{trial_id}", { params: { path: { trial_id: id ?? "" } } })),
	});
}

/** Every trial in a line each. */
export function useTrials() {
	return useQuery({ queryKey: ["trials"], queryFn: () => body(api.GET("/api/trials")) });
}
