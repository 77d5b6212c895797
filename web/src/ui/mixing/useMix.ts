import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, body } from "@/api/client";
import { key, ofTrial } from "@/api/keys";

/** Every sum of the mixing bench with its fields; the same for every shed. */
export function useMixingBench() {
	const { data } = useQuery({
		queryKey: key("mixing"),
		queryFn: () => body(api.GET("/api/mixing")),
		staleTime: Number.POSITIVE_INFINITY,
	});
	return data;
}

/** The value once it has stood still for a moment. */
export function useSettled<T>(value: T, ms = 250): T {
	const [settled, setSettled] = useState(value);
	useEffect(() => {
		const timer = setTimeout(() => setSettled(value), ms);
		return () => clearTimeout(timer);
	}, [value, ms]);
	return settled;
}

/** The card of one line, as it is written, with the answers that belong to this line. */
export function useLine(line: string, choices: Record<string, string>) {
	return useQuery({
		queryKey: key("mix", "line", line, choices),
		enabled: line.trim() !== "",
		retry: false,
		placeholderData: keepPreviousData,
		queryFn: () => body(api.POST("/api/mixing/line", { body: { line, choices } })),
	});
}

/** The card of a sum, as its fields are filled. */
export function useSum(sum: string, fields: Record<string, string>) {
	return useQuery({
		queryKey: key("mix", "sum", sum, fields),
		retry: false,
		placeholderData: keepPreviousData,
		queryFn: () =>
			body(
				api.POST("/api/mixing/sums/{key}", { params: { path: { key: sum } }, body: { fields } }),
			),
	});
}

/** Answers a question once for all cards, until it is changed; null forgets the answer. */
export function useRemember() {
	const queries = useQueryClient();
	return useMutation({
		mutationFn: (choices: Record<string, string | null>) =>
			body(api.PUT("/api/mixing/choices", { body: { choices } })),
		onSuccess: () => {
			void queries.invalidateQueries({ queryKey: key("mix") });
			void queries.invalidateQueries({ queryKey: key("defaults") });
		},
	});
}

/** Puts a card on a trial's recipe list. */
export function usePutOnList() {
	const queries = useQueryClient();
	return useMutation({
		mutationFn: (sent: {
			trialId: string;
			key: string;
			fields: Record<string, string>;
			line: string;
			choices: Record<string, string>;
			treatment: number | null;
			override: string;
		}) => {
			const { trialId, ...rest } = sent;
			return body(
				api.POST("/api/trials/{trial_id}/recipes", {
					params: { path: { trial_id: trialId } },
					body: rest,
				}),
			);
		},
		onSuccess: (_, { trialId }) => {
			void queries.invalidateQueries({ queryKey: ofTrial(trialId, "prepare") });
		},
	});
}
