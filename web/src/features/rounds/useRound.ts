import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import {
	type ApiProblem,
	api,
	body,
	type Observation,
	type Round,
	type RoundUnit,
	type Sent,
} from "@/api/client";
import { painted, sent, type Tap } from "./round";
import { useOutbox } from "./useOutbox";

interface Done {
	unit: string;
	id: string;
	kind: Sent["kind"];
	before: Observation | null;
}

/** One round: its units, its taps, its undo. A tap paints at once and is sent behind. */
export function useRound(trialId: string, day: number) {
	const queries = useQueryClient();
	const key = ["round", trialId, day];
	const [refused, setRefused] = useState<ApiProblem | null>(null);
	const done = useRef<Done[]>([]);
	const [canUndo, setCanUndo] = useState(false);
	const query = useQuery({
		queryKey: key,
		queryFn: () =>
			body(
				api.GET("/api/trials/{trial_id}/rounds/{day}", {
					params: { path: { trial_id: trialId, day } },
				}),
			),
		staleTime: Number.POSITIVE_INFINITY,
		refetchOnWindowFocus: false,
	});
	const outbox = useOutbox(
		trialId,
		() => {
			void queries.invalidateQueries({ queryKey: ["trial", trialId] });
			void queries.invalidateQueries({ queryKey: ["trials"] });
			void queries.invalidateQueries({ queryKey: ["finish", trialId] });
		},
		(problem) => {
			setRefused(problem);
			void queries.invalidateQueries({ queryKey: key });
		},
	);
	const paint = useCallback(
		(change: (round: Round) => Round) =>
			queries.setQueryData<Round>(["round", trialId, day], (old) => (old ? change(old) : old)),
		[queries, trialId, day],
	);

	const tap = (unit: RoundUnit, what: Tap) => {
		const stamp = query.data?.stamp ?? new Date().toISOString();
		const item = sent(what, unit.id, newId(), stamp);
		const before = what.kind === "score" ? unit.score : unit.current;
		outbox.post(item);
		paint((round) => painted(round, item));
		done.current.push({ unit: unit.id, id: item.id, kind: what.kind, before });
		setCanUndo(true);
		setRefused(null);
	};

	/** Takes the last tap back; gives the unit it stood on. */
	const undo = (): string | null => {
		const last = done.current.pop();
		setCanUndo(done.current.length > 0);
		if (!last) return null;
		const stamp = query.data?.stamp ?? new Date().toISOString();
		outbox.post({
			id: newId(),
			unit_id: last.unit,
			kind: "void",
			seen_at: stamp,
			corrects: last.id,
			removed: 0,
			shoot: false,
			wilted: false,
		});
		paint((round) => ({
			...round,
			units: round.units.map((u) =>
				u.id !== last.unit
					? u
					: last.kind === "score"
						? { ...u, score: last.before }
						: { ...u, current: last.before },
			),
		}));
		return last.unit;
	};

	return { ...query, tap, undo, canUndo, refused, waiting: outbox.waiting, isOut: outbox.isOut };
}

function newId(): string {
	return Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) =>
		b.toString(16).padStart(2, "0"),
	).join("");
}
