import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { trialChanged } from "@/api/keys";
import type { Kept } from "@/api/outbox";
import { useOutbox } from "./useOutbox";

/** Trials of which something waits to be sent. */
export function waitingTrials(kept: readonly Pick<Kept, "trial" | "acked">[]): Set<string> {
	return new Set(kept.filter((k) => k.acked === null).map((k) => k.trial));
}

/**
 * Once all that this device held of a trial has arrived, what was told of the trial is old: on whichever
 * page one is by then, a finish opened in between too.
 */
export function useArrivals() {
	const queries = useQueryClient();
	const { kept } = useOutbox();
	const before = useRef(new Set<string>());
	useEffect(() => {
		const now = waitingTrials(kept);
		for (const trial of before.current) if (!now.has(trial)) void trialChanged(queries, trial);
		before.current = now;
	}, [kept, queries]);
}
