import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiProblem, api, body } from "@/api/client";
import { fileBody } from "@/api/fileBody";
import { ofTrial, trialChanged } from "@/api/keys";
import type { DateOrder } from "@/ui/DatesAsked";
import { useUnsaved } from "@/ui/useUnsaved";
import {
	type Changes,
	changed,
	columnsOf,
	type Grid,
	keyOf,
	type Marked,
	savedMark,
	without,
} from "./looks";

/** The grid of a trial's looks: what is saved, what was typed over it, and the ways to keep it. */
export function useLooks(trialId: string) {
	const queries = useQueryClient();
	const [changes, setChanges, forget] = useUnsaved<Changes>(`looks.${trialId}`, {});
	const [added, setAdded] = useUnsaved<string[]>(`looks.dates.${trialId}`, []);
	const [before, setBefore] = useState<Marked[]>([]);
	const [sent, setSent] = useState<Marked[]>([]);
	const path = { trial_id: trialId };
	const found = useQuery({
		queryKey: ofTrial(trialId, "looks"),
		queryFn: () => body(api.GET("/api/trials/{trial_id}/looks", { params: { path } })),
	});
	const grid = found.data;
	const save = useMutation({
		mutationFn: (cells: Marked[]) =>
			body(api.POST("/api/trials/{trial_id}/looks", { params: { path }, body: { cells } })),
		onMutate: (cells) => setSent(cells),
		onSuccess: (now: Grid, cells) => {
			setBefore(grid ? cells.map((c) => ({ ...c, mark: savedIn(grid, c) })) : []);
			queries.setQueryData(ofTrial(trialId, "looks"), now);
			setChanges(without(changes, cells)); // what was typed meanwhile stays
			void trialChanged(queries, trialId, ["looks"]);
		},
	});
	const read = useMutation({
		mutationFn: ({ sheet, order }: { sheet: Blob; order?: DateOrder }) =>
			body(
				api.POST("/api/trials/{trial_id}/looks/read", {
					params: { path, query: { dates: order } },
					...fileBody(sheet),
				}),
			),
		onSuccess: ({ cells }) => {
			lay(Object.fromEntries(cells.map((c) => [keyOf(c.unit_id, c.on), c.mark])));
			setAdded([...new Set([...added, ...cells.map((c) => c.on)])]);
		},
	});
	const lay = (more: Changes) => setChanges({ ...changes, ...more });
	const wrong = new Map<string, string>();
	if (save.error instanceof ApiProblem)
		for (const e of save.error.errors) {
			const cell = sent[Number(/^\/cells\/(\d+)/.exec(e.pointer)?.[1] ?? -1)];
			const isAsSent = cell && changes[keyOf(cell.unit_id, cell.on)] === cell.mark;
			if (isAsSent) wrong.set(keyOf(cell.unit_id, cell.on), e.detail);
		}
	return {
		grid,
		told: found,
		columns: grid ? columnsOf(grid, added) : [],
		changes,
		lay,
		addDate: (on: string) => setAdded([...new Set([...added, on])]),
		toSend: grid ? changed(grid, changes) : [],
		save,
		read,
		wrong,
		discard: () => {
			forget();
			save.reset();
		},
		/** What stood in the cells saved last, to put it back. */
		before: save.isSuccess ? before : [],
	};
}

function savedIn(grid: Grid, cell: Marked): string {
	const unit = grid.units.find((u) => u.id === cell.unit_id);
	return unit ? savedMark(grid, unit, cell.on) : "";
}
