import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import {
	api,
	body,
	type EntrySent,
	type Observation,
	type Round,
	type RoundUnit,
	type Sent,
} from "@/api/client";
import { voidEntry, voidTap } from "@/api/items";
import { ofTrial } from "@/api/keys";
import { deviceId, keep, newId, waitingIn } from "@/api/outbox";
import { useOutbox } from "@/ui/useOutbox";
import { painted, sent, type Tap } from "./round";

const REFRESH_MS = 10_000;

interface Done {
	unit: string;
	id: string;
	kind: Sent["kind"] | "entry";
}

/**
 * One round: its units, its taps, its undo.
 *
 * A tap is painted while this device writes it, then sent. What the other phones saw comes in every
 * few seconds; what this one wrote since is painted over it.
 */
export function useRound(trialId: string, day: number) {
	const queries = useQueryClient();
	const outbox = useOutbox();
	const done = useRef<Done[]>([]);
	const [canUndo, setCanUndo] = useState(false);
	const waiting = waitingIn(outbox);
	const query = useQuery({
		queryKey: ofTrial(trialId, "round", day),
		queryFn: (): Promise<Round> => {
			const path = { trial_id: trialId, day };
			return body(api.GET("/api/trials/{trial_id}/rounds/{day}", { params: { path } }));
		},
		refetchInterval: outbox.isOut ? false : REFRESH_MS,
		refetchOnWindowFocus: false,
	});
	const told = query.data;
	const round = useMemo(
		() => (told && outbox.isOpen ? painted(told, outbox.kept) : undefined),
		[told, outbox.kept, outbox.isOpen],
	);

	// a round opened on its own day is dated by each tap, also after midnight
	const [opened, setOpened] = useState<"live" | "past" | null>(null);
	if (told && opened === null) setOpened(told.stamp == null ? "live" : "past");
	const fixed = opened === "live" ? null : (told?.stamp ?? null);
	const hasTurned = opened === "live" && told?.stamp != null;
	useEffect(() => {
		if (hasTurned) void queries.invalidateQueries({ queryKey: ofTrial(trialId, "whole") });
	}, [hasTurned, queries, trialId]);
	const stamp = () => fixed ?? new Date().toISOString();
	const given = fixed !== null;
	const note = (d: Done) => {
		done.current.push(d);
		setCanUndo(true);
	};
	/** What this device could not keep cannot be undone. */
	const unnote = (id: string) => {
		done.current = done.current.filter((d) => d.id !== id);
		setCanUndo(done.current.length > 0);
	};
	/** Enters a look or a score; gives whether this device kept it. */
	const tap = (unit: RoundUnit, what: Tap): Promise<boolean> => {
		const base = (what.kind === "score" ? unit.score : unit.current)?.id ?? "";
		const item = sent(what, unit.id, newId(), stamp(), { base, device: deviceId(), given });
		note({ unit: unit.id, id: item.id, kind: what.kind });
		// where the device cannot keep it, the outbox withdraws it and says so
		return keep(trialId, day, { kind: "look", item }).then(
			() => true,
			() => {
				unnote(item.id);
				return false;
			},
		);
	};
	const write = (entry: Omit<EntrySent, "id" | "seen_at" | "given" | "device" | "who">) => {
		const item: EntrySent = {
			...entry,
			id: newId(),
			seen_at: stamp(),
			given,
			who: "",
			device: deviceId(),
		};
		note({ unit: item.target, id: item.id, kind: "entry" });
		return keep(trialId, day, { kind: "entry", item }).then(
			() => item.id,
			(refused) => {
				unnote(item.id);
				throw refused;
			},
		);
	};
	/** Takes an entry of the diary back, beside what it takes back. */
	const takeBack = (id: string) =>
		keep(trialId, day, { kind: "entry", item: { ...voidEntry(id, newId(), stamp()), given } });
	/** Keeps a photo; gives its id, under which marks on it are written. */
	const photo = async (scope: string, target: string, text: string, picture: Blob) => {
		const id = newId();
		const item = { id, scope, target, seen_at: stamp(), given, text, photo: picture };
		await keep(trialId, day, { kind: "photo", item });
		return id;
	};

	/** Takes the last thing back; gives the unit it stood on. */
	const undo = (): string | null => {
		const last = done.current.pop();
		setCanUndo(done.current.length > 0);
		if (!last) return null;
		const item = { ...voidTap(last.unit, last.id, newId(), stamp()), given };
		const takingBack =
			last.kind === "entry" ? takeBack(last.id) : keep(trialId, day, { kind: "look", item });
		void takingBack.catch(() => note(last)); // where this device cannot keep it, it still can be undone
		return last.unit;
	};

	/** Decides between what stands and what another phone saw; both stay in the log. */
	const settle = useCallback(
		async (unit: RoundUnit, take: Observation | null) => {
			const { conflict, current, score } = unit;
			if (!conflict) return;
			const at = fixed ?? new Date().toISOString();
			const given = fixed !== null;
			const back = { ...voidTap(unit.id, conflict.id, newId(), at), given };
			await keep(trialId, day, { kind: "look", item: back });
			if (!take) return;
			const corrects = (take.kind === "score" ? score : current)?.id;
			const item = sent(asTap(take), unit.id, newId(), at, { corrects, device: deviceId(), given });
			await keep(trialId, day, { kind: "look", item });
		},
		[trialId, day, fixed],
	);

	return {
		...query,
		round,
		tap,
		write,
		takeBack,
		photo,
		undo,
		canUndo,
		settle,
		outbox,
		waiting,
		hasTurned,
	};
}

/** What an observation saw, as a tap. */
function asTap(o: Observation): Tap {
	if (o.kind === "score") return { kind: "score", score: o.score ?? null, parts: o.parts };
	const lossy = { loss: o.loss ?? undefined, removed: o.removed };
	if (o.kind === "count") {
		return {
			kind: "count",
			...lossy,
			struck: o.struck,
			lost: o.lost,
			lost_struck: o.lost_struck,
			parts: o.parts,
		};
	}
	return { kind: "look", ...lossy, stage: o.stage ?? undefined, shoot: o.shoot, wilted: o.wilted };
}
