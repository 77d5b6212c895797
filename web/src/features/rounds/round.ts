import type {
	Key,
	Observation,
	PlanRead,
	Reference,
	Round,
	RoundUnit,
	Sent,
	StageScale,
} from "@/api/client";
import { BLANK_TAP } from "@/api/items";
import type { Kept } from "@/api/outbox";

export type Counts = Partial<
	Pick<Sent, "struck" | "lost" | "lost_struck" | "removed" | "loss" | "parts">
>;

/** The part of a count that holds a stage counted beside the endpoint. */
export const stageCount = (code: number) => `stage_${code}`;

/** What a tap says, before it has an id and a stamp. */
export type Tap =
	| {
			kind: "look";
			stage?: number;
			shoot?: boolean;
			wilted?: boolean;
			loss?: string;
			removed?: number;
			as_row?: boolean;
	  }
	| ({ kind: "count"; as_row?: boolean } & Counts)
	| { kind: "score"; score: number | null; parts?: Record<string, number> };

/** The ways a cursor goes over the bench. */
export const ORDERS = ["rows", "snake", "shuffled"] as const;
export type Order = (typeof ORDERS)[number];

/** The units' indices in the order of a round: line by line, back and forth, or as drawn. */
export function orderOf(round: Pick<Round, "units" | "shuffled">, order: Order): number[] {
	if (order === "shuffled") return round.shuffled;
	const back = (u: RoundUnit) => order === "snake" && u.row % 2 === 1;
	return round.units
		.map((u, i) => ({ u, i }))
		.sort(
			(a, b) =>
				a.u.tray - b.u.tray ||
				a.u.row - b.u.row ||
				(back(a.u) ? b.u.col - a.u.col : a.u.col - b.u.col),
		)
		.map((x) => x.i);
}

export interface BandOfRows {
	first: number;
	/** Indices of its units, row by row from the left. */
	rows: readonly (readonly number[])[];
	/** The same, to find one. */
	at: ReadonlySet<number>;
}

const ROWS_IN_BAND = 3;

/** The trays as they stand, each cut into bands of rows that are painted together. */
export function traysOf(units: readonly RoundUnit[]): { tray: number; bands: BandOfRows[] }[] {
	const trays: { tray: number; bands: BandOfRows[] }[] = [];
	let rows: number[][] = [];
	const close = () => {
		const bands = trays[trays.length - 1]?.bands;
		for (let k = 0; k < rows.length; k += ROWS_IN_BAND) {
			const part = rows.slice(k, k + ROWS_IN_BAND);
			bands?.push({ first: part[0]?.[0] ?? 0, rows: part, at: new Set(part.flat()) });
		}
		rows = [];
	};
	let before: RoundUnit | undefined;
	for (const i of orderOf({ units: [...units], shuffled: [] }, "rows")) {
		const u = units[i];
		if (!u) continue;
		if (u.tray !== before?.tray) {
			close();
			trays.push({ tray: u.tray, bands: [] });
		}
		if (u.tray !== before?.tray || u.row !== before.row) rows.push([]);
		rows[rows.length - 1]?.push(i);
		before = u;
	}
	close();
	return trays;
}

/** Whether every unit stands where it stood. */
export function standAlike(a: readonly RoundUnit[], b: readonly RoundUnit[]): boolean {
	return (
		a.length === b.length &&
		a.every((u, i) => {
			const v = b[i];
			return u === v || (u.tray === v?.tray && u.row === v.row && u.col === v.col);
		})
	);
}

/** The next unit in the order that still waits, after `from`; else the one after it. */
export function nextOpen(
	units: readonly RoundUnit[],
	from: number,
	isOpen: (u: RoundUnit) => boolean,
	order: readonly number[] = units.map((_, i) => i),
): number {
	const at = order.indexOf(from);
	for (let k = 1; k <= order.length; k++) {
		const i = order[(at + k) % order.length] ?? 0;
		const unit = units[i];
		if (unit && !unit.gone && isOpen(unit)) return i;
	}
	return order[Math.min(at + 1, order.length - 1)] ?? from;
}

/** The unit one back in the order. */
export function backFrom(order: readonly number[], from: number): number {
	return order[Math.max(0, order.indexOf(from) - 1)] ?? from;
}

/** The units of one line that were not looked at yet: what "fill row" would enter. */
export function restOfRow(units: readonly RoundUnit[], at: number): RoundUnit[] {
	const here = units[at];
	if (!here) return [];
	return units.filter((u) => u.tray === here.tray && u.row === here.row && !u.gone && !u.current);
}

/** What is still open: by treatment where that may be shown, and the units themselves. */
export function shortOf(round: Round, arms: readonly { name: string }[]) {
	const open = round.units.filter((u) => !u.gone && !u.current);
	const byArm = new Map<string, number>();
	for (const u of open) {
		const name = u.cell.treatment === null ? null : arms[u.cell.treatment]?.name;
		if (name) byArm.set(name, (byArm.get(name) ?? 0) + 1);
	}
	return {
		open: open.map((u) => u.cell.code),
		arms: [...byArm].map(([name, n]) => `${name} (${n})`),
	};
}

/** The score the parts add up to, or null while roots or quarters are not known. */
export function proposedScore(
	parts: Readonly<Record<string, number>>,
	needs: Reference["score_needs"],
	reached: number,
): number | null {
	if (parts.roots === 0) return 0;
	if (parts.roots === undefined || parts.quarters === undefined) return null;
	const known: Record<string, number> = { ...parts };
	if ((known.wall ?? 0) >= 1) known.longest = Math.max(known.longest ?? 0, reached);
	for (let score = needs.length - 1; score > 0; score--) {
		const met = Object.entries(needs[score] ?? {}).every(
			([name, least]) => known[name] === undefined || known[name] >= least,
		);
		if (met) return score;
	}
	return 0;
}

/** The unit a step up, down, left or right of `from` on the same tray, or `from` at the edge. */
export function step(units: readonly RoundUnit[], from: number, key: string): number {
	const here = units[from];
	if (!here) return from;
	const [dr, dc] = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[
		key
	] ?? [0, 0];
	const order = units.map((u, i) => ({ tray: u.tray, row: u.row, col: u.col, i }));
	if (dc) {
		const lines = [...order].sort((a, b) => a.tray - b.tray || a.row - b.row || a.col - b.col);
		const at = lines.findIndex((c) => c.i === from) + dc;
		return lines[at]?.i ?? from;
	}
	const line = order.filter((c) => c.tray === here.tray && c.row === here.row + (dr ?? 0));
	const other = order.filter((c) => (dr === 1 ? c.tray === here.tray + 1 && c.row === 0 : false));
	const pool = line.length ? line : other;
	const best = pool.sort((a, b) => Math.abs(a.col - here.col) - Math.abs(b.col - here.col))[0];
	return best?.i ?? from;
}

/** The key of the ladder that says what an observation saw. */
export function keyOf(o: Observation | null, ladder: StageScale | undefined): Key | undefined {
	if (!o || !ladder) return undefined;
	if (o.loss) return ladder.exits.find((e) => e.cause === o.loss);
	if (o.removed) return ladder.exits.find((e) => e.cause === "removed");
	return ladder.stages.find((s) => s.code === o.stage);
}

/** The tap that repeats what the last look saw; nothing at all where there was none. */
export function sameAsLast(unit: RoundUnit, ladder: StageScale): Tap {
	const last = unit.previous;
	const first = ladder.stages[0]?.code ?? 0;
	return {
		kind: "look",
		stage: last ? (last.stage ?? undefined) : first,
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

/** Whether a look saw the plant but not its base. */
export function isBaseUnseen(o: Observation | null): boolean {
	return o !== null && o.kind === "look" && o.stage === null && !o.loss && !o.removed;
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
		parts: { ...o?.parts },
	};
}

/** What is wrong with a count; one that may stand is saved when it is entered a second time. */
export interface CountFault {
	says: string;
	mayStand: boolean;
}

/** Why these counts cannot be true, in one sentence, or null. */
export function countFault(
	c: Counts,
	held: number,
	before: Observation | null,
	/** Stages counted beside the endpoint, and the endpoint itself, in their order, with their names. */
	stages: readonly { code: number; name: string; isEndpoint: boolean }[] = [],
): CountFault | null {
	const total = (c.struck ?? 0) + (c.lost ?? 0) + (c.removed ?? 0);
	if (total > held)
		return { says: `${total} counted, but only ${held} in this container`, mayStand: false };
	if ((c.lost_struck ?? 0) > (c.struck ?? 0))
		return { says: "More are lost afterwards than were ever counted", mayStand: false };
	const reached = stages.map((s) => ({
		...s,
		n: s.isEndpoint ? (c.struck ?? 0) : (c.parts?.[stageCount(s.code)] ?? null),
	}));
	const told = reached.filter((s): s is typeof s & { n: number } => s.n !== null);
	const much = told.find((s) => s.n > held);
	if (much) return { says: `${much.n} at “${much.name}”, but only ${held} here`, mayStand: false };
	for (const [i, late] of told.entries()) {
		const early = told[i - 1];
		if (early && late.n > early.n) {
			const says = `${late.n} at “${late.name}”, but only ${early.n} ever reached “${early.name}”`;
			return { says, mayStand: false };
		}
	}
	if (before && (c.struck ?? 0) < (before.struck ?? 0)) {
		const says = `Fewer than the ${before.struck} on day ${before.day}: count all that ever did, lost ones too. Save anyway?`;
		return { says, mayStand: true };
	}
	return null;
}

/** A tap as it is sent. `base`: what this device showed for the unit, "" for nothing. */
export function sent(
	tap: Tap,
	unitId: string,
	id: string,
	seenAt: string,
	more: Partial<Pick<Sent, "base" | "device" | "given" | "corrects">> = {},
): Sent {
	return { ...BLANK_TAP, id, unit_id: unitId, seen_at: seenAt, ...more, ...tap };
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
		as_row: s.as_row ?? false,
		parts: s.parts ?? {},
	};
}

/**
 * The round as the shed told it, with what this device wrote since painted on it.
 *
 * A tap the shed took before it told this round is in it already; a later one is painted, in the
 * order it was written. Taking back shows what stood before it.
 */
export function painted(round: Round, kept: readonly Kept[]): Round {
	const isIn = (k: Kept) =>
		k.acked !== null && k.acked <= (k.kind === "entry" ? round.entry_seq : round.seq);
	const mine = kept.filter((k) => k.trial === round.trial_id && !isIn(k));
	if (mine.length === 0) return round;
	const units = new Map(round.units.map((u) => [u.id, u]));
	const had = new Map<string, { unit: string; was: RoundUnit }>();
	for (const k of mine) {
		if (k.kind === "entry") paintSecond(units, k.item);
		if (k.kind !== "look") continue;
		const s = k.item;
		const u = units.get(s.unit_id);
		if (!u || (k.day !== round.day && s.kind !== "score")) continue;
		if (s.kind === "void") {
			units.set(u.id, takenBack(u, s.corrects ?? "", had.get(s.corrects ?? "")?.was));
			continue;
		}
		const shown = s.kind === "score" ? u.score : u.current;
		if (shown?.id !== s.id) had.set(s.id, { unit: u.id, was: u });
		const seen = asObservation(s, round.day);
		const conflict = s.corrects ? null : u.conflict;
		units.set(
			u.id,
			s.kind === "score" ? { ...u, score: seen, conflict } : { ...u, current: seen, conflict },
		);
	}
	return { ...round, units: round.units.map((u) => units.get(u.id) ?? u) };
}

function takenBack(u: RoundUnit, id: string, was: RoundUnit | undefined): RoundUnit {
	if (u.conflict?.id === id) return { ...u, conflict: null };
	if (u.current?.id === id) return { ...u, current: was?.current ?? null };
	if (u.score?.id === id) return { ...u, score: was?.score ?? null };
	return u;
}

function paintSecond(
	units: Map<string, RoundUnit>,
	e: { kind: string; target?: string; values?: Record<string, number> },
) {
	const u = units.get(e.target ?? "");
	if (e.kind === "second" && u) units.set(u.id, { ...u, second_score: e.values?.score ?? null });
}

/** Figures of a round as it is painted now. */
export function tally(round: Round, endpoint: number) {
	const due = round.units.filter((u) => !u.gone);
	const seen = due.filter((u) => u.current);
	const fresh = due.reduce((sum, u) => sum + newStrikes(u, endpoint), 0);
	return { due: due.length, seen: seen.length, fresh, isComplete: seen.length === due.length };
}

/** Strikes this round saw of a unit that the look before had not. */
export function newStrikes(u: RoundUnit, endpoint: number): number {
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

/** Whether roots are scored at a lift: a shoot, a bloom or a step of one's own says nothing of them. */
export const hasRoots = (plan: Pick<PlanRead, "kind" | "outcome">): boolean =>
	plan.kind === "cutting" && (plan.outcome === "usual" || plan.outcome === "bulb");

/** A place as it is written on the bench, C4 or 2-C4, as numbers from 0. */
export function placeOf(
	text: string,
	round: Pick<Round, "units">,
): { tray: number; row: number; col: number } | null {
	const m = /^\s*(?:(\d+)\s*-\s*)?([a-z]{1,2})\s*(\d{1,2})\s*$/i.exec(text);
	if (!m?.[2] || !m[3]) return null;
	const row = [...m[2].toUpperCase()].reduce((sum, c) => sum * 26 + c.charCodeAt(0) - 64, 0) - 1;
	const tray = Number(m[1] ?? 1) - 1;
	const col = Number(m[3]) - 1;
	const lastTray = Math.max(...round.units.map((u) => u.tray));
	return isPlace(tray, row, col, lastTray) ? { tray, row, col } : null;
}

/** The largest number, from 0, of a row or column that a unit can be moved to. */
const MOST_LINE = 60;

/** Whether a unit can be moved there: onto a tray of the bench or one beside it. */
export function isPlace(tray: number, row: number, col: number, lastTray: number): boolean {
	const isLine = (n: number) => n >= 0 && n <= MOST_LINE;
	return tray >= 0 && tray <= lastTray + 1 && isLine(row) && isLine(col);
}
