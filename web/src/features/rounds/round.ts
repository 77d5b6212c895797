import type { Key, Ladder, Observation, Plan, Round, RoundUnit, Sent } from "@/api/client";

export type Counts = Partial<Pick<Sent, "struck" | "lost" | "lost_struck" | "removed" | "loss">>;

/** What a tap says, before it has an id and a stamp. */
export type Tap =
	| {
			kind: "look";
			stage?: number;
			shoot?: boolean;
			wilted?: boolean;
			loss?: string;
			removed?: number;
	  }
	| ({ kind: "count" } & Counts)
	| { kind: "score"; score: number };

export const SCORE_WORDS = [
	"none: bare, callus or bulges",
	"a trace",
	"weak, often one-sided",
	"adequate, pot with care",
	"good, most sides",
	"full, even, holds the ball",
];

/** The next unit in reading order that still waits for this round, after `from`; else the next. */
export function nextOpen(
	units: readonly RoundUnit[],
	from: number,
	isOpen: (u: RoundUnit) => boolean,
): number {
	for (let k = 1; k <= units.length; k++) {
		const i = (from + k) % units.length;
		const unit = units[i];
		if (unit && !unit.gone && isOpen(unit)) return i;
	}
	return Math.min(from + 1, units.length - 1);
}

/** The unit a step up, down, left or right of `from` on the same tray, or `from` at the edge. */
export function step(units: readonly RoundUnit[], from: number, key: string): number {
	const here = units[from]?.cell;
	if (!here) return from;
	const [dr, dc] = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[
		key
	] ?? [0, 0];
	if (dc) {
		const i = from + dc;
		return i >= 0 && i < units.length ? i : from;
	}
	const order = units.map((u, i) => ({ ...u.cell, i }));
	const line = order.filter((c) => c.tray === here.tray && c.row === here.row + (dr ?? 0));
	const other = order.filter((c) => (dr === 1 ? c.tray === here.tray + 1 && c.row === 0 : false));
	const pool = line.length ? line : other;
	const best = pool.sort((a, b) => Math.abs(a.col - here.col) - Math.abs(b.col - here.col))[0];
	return best?.i ?? from;
}

/** The key of the ladder that says what an observation saw. */
export function keyOf(o: Observation | null, ladder: Ladder | undefined): Key | undefined {
	if (!o || !ladder) return undefined;
	if (o.loss) return ladder.exits.find((e) => e.cause === o.loss);
	if (o.removed) return ladder.exits.find((e) => e.cause === "removed");
	return ladder.stages.find((s) => s.code === o.stage);
}

/** The tap that repeats what the last look saw; nothing at all where there was none. */
export function sameAsLast(unit: RoundUnit, ladder: Ladder): Tap {
	const last = unit.previous;
	const first = ladder.stages[0]?.code ?? 0;
	return {
		kind: "look",
		stage: last?.stage ?? first,
		shoot: last?.shoot ?? false,
		wilted: last?.wilted ?? false,
	};
}

/** The tap a key of the ladder stands for. */
export function tapOf(key: Key, flags: { shoot: boolean; wilted: boolean }): Tap {
	if (key.cause === "removed") return { kind: "look", removed: 1 };
	if (key.cause) return { kind: "look", loss: key.cause };
	return { kind: "look", stage: key.code ?? 0, ...flags };
}

/** Where the counts of a container start in this round: as they stood. */
export function startCounts(unit: RoundUnit) {
	const o = unit.current ?? unit.previous;
	return {
		struck: o?.struck ?? 0,
		lost: o?.lost ?? 0,
		lost_struck: o?.lost_struck ?? 0,
		removed: o?.removed ?? 0,
		loss: o?.loss ?? null,
	};
}

/** Why these counts cannot be true, in one sentence, or null. */
export function countFault(
	c: Counts,
	plan: Pick<Plan, "per_container">,
	before: Observation | null,
): string | null {
	const sown = plan.per_container ?? 1;
	const total = (c.struck ?? 0) + (c.lost ?? 0) + (c.removed ?? 0);
	if (total > sown) return `That makes ${total}, but only ${sown} were set in this container.`;
	if ((c.lost_struck ?? 0) > (c.struck ?? 0))
		return "More were lost after coming up than ever came up.";
	if (before && (c.struck ?? 0) < (before.struck ?? 0)) {
		return `That is fewer than the ${before.struck} seen on day ${before.day}: count all that ever came up. Enter again to keep it.`;
	}
	return null;
}

/** A tap as it is sent. */
export function sent(tap: Tap, unitId: string, id: string, seenAt: string): Sent {
	return { id, unit_id: unitId, seen_at: seenAt, removed: 0, shoot: false, wilted: false, ...tap };
}

/** What a sent tap will look like once the shed has it. */
export function asObservation(s: Sent, day: number): Observation {
	return {
		id: s.id,
		unit_id: s.unit_id,
		kind: s.kind,
		day,
		seen_at: s.seen_at,
		who: "",
		corrects: s.corrects ?? null,
		stage: s.stage ?? null,
		wilted: s.wilted ?? false,
		shoot: s.shoot ?? false,
		loss: s.loss ?? null,
		removed: s.removed ?? 0,
		struck: s.struck ?? null,
		lost: s.lost ?? null,
		lost_struck: s.lost_struck ?? null,
		score: s.score ?? null,
	};
}

/** The round with one more tap painted on it. */
export function painted(round: Round, s: Sent): Round {
	return {
		...round,
		units: round.units.map((u) => {
			if (u.id !== s.unit_id) return u;
			if (s.kind === "void") return u;
			const seen = asObservation(s, round.day);
			return s.kind === "score" ? { ...u, score: seen } : { ...u, current: seen };
		}),
	};
}

/** Figures of a round as it is painted now. */
export function tally(round: Round, endpoint: number) {
	const due = round.units.filter((u) => !u.gone);
	const seen = due.filter((u) => u.current);
	const fresh = due.reduce((sum, u) => sum + newStrikes(u, endpoint), 0);
	return { due: due.length, seen: seen.length, fresh, isComplete: seen.length === due.length };
}

function newStrikes(u: RoundUnit, endpoint: number): number {
	if (!u.current) return 0;
	if (u.current.kind === "count") {
		return Math.max(0, (u.current.struck ?? 0) - (u.previous?.struck ?? 0));
	}
	const has = (u.current.stage ?? -1) >= endpoint;
	return has && (u.previous?.stage ?? -1) < endpoint ? 1 : 0;
}

/** The unit whose label says this, its blind code or its place; -1 where none does. */
export function atCode(units: readonly RoundUnit[], code: string): number {
	const said = code.trim().toUpperCase();
	if (said === "") return -1;
	return units.findIndex((u) => u.cell.label === said || u.cell.code === said);
}
