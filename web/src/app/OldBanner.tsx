import { Button } from "@mantine/core";
import { notifyManager, type Query, useQueryClient } from "@tanstack/react-query";
import { useCallback, useSyncExternalStore } from "react";
import { ProblemAlert } from "@/ui/ProblemAlert";

const TIME = new Intl.DateTimeFormat(undefined, { hour: "2-digit", minute: "2-digit" });

const failed = (query: Query) => query.state.status === "error" && query.isActive();

/**
 * Says that what stands on the page could not be asked anew, and of when it is; or that what every page needs is missing,
 * where the page says nothing of itself.
 *
 * Within a round nothing comes above the tray while somebody taps: the round has a line of its own.
 */
export function OldBanner({ inRound }: { inRound: boolean }) {
	const queries = useQueryClient();
	const told = queries.getQueryCache();
	const watch = useCallback(
		(tell: () => void) => told.subscribe(notifyManager.batchCalls(tell)),
		[told],
	);
	const old = useSyncExternalStore(watch, () => {
		const all = told.getAll().filter(failed);
		const untold = all.filter((q) => q.state.data === undefined);
		if (untold.length > 0 && untold.every((q) => q.meta?.isShared)) return untold[0];
		return inRound ? undefined : all.find((q) => q.state.data !== undefined);
	});
	if (!old) return null;
	const { data, error, dataUpdatedAt } = old.state;
	return (
		<ProblemAlert error={error}>
			<p>
				{data === undefined
					? "Part of this page is missing."
					: `This page shows what was known at ${TIME.format(dataUpdatedAt)}.`}
			</p>
			<Button
				size="sm"
				variant="default"
				onClick={() => void queries.refetchQueries({ predicate: failed })}
			>
				Try again
			</Button>
		</ProblemAlert>
	);
}
