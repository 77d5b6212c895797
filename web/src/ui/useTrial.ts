import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { TRIALS } from "@/api/asked";
import { api, body } from "@/api/client";
import { ofTrial } from "@/api/keys";

/** What the offline cache of this device may hold of a draft and a sealed trial must not show. */
const OF_THE_DRAFT =
	/\/(prepare|baseline|labels[^/]*|compare\/[^/]+|table\.csv|trial\.json)(\?.*)?$/;

/** Once a trial is sealed: forgets the answers this device kept while its bench was still shown. */
async function forgetDraft(id: string): Promise<void> {
	if (!("caches" in window)) return;
	const kept = await caches.open("told");
	for (const request of await kept.keys()) {
		const url = new URL(request.url);
		if (url.pathname.startsWith(`/api/trials/${id}/`) && OF_THE_DRAFT.test(url.pathname))
			await kept.delete(request);
	}
}

/** One trial with its course and bench. */
export function useTrial(id: string | undefined) {
	const queries = useQueryClient();
	const found = useQuery({
		queryKey: ofTrial(id, "whole"),
		enabled: id !== undefined,
		queryFn: () =>
			body(api.GET("/api/trials/{trial_id}", { params: { path: { trial_id: id ?? "" } } })),
	});
	const isSealed = found.data?.sealed ?? false;
	useEffect(() => {
		if (!isSealed || !id) return;
		for (const part of ["prepare", "baseline", "labels"] as const)
			void queries.invalidateQueries({ queryKey: ofTrial(id, part) });
		void forgetDraft(id);
	}, [isSealed, id, queries]);
	return found;
}

/** Every trial in a line each. */
export function useTrials() {
	return useQuery(TRIALS);
}
