import type { Key, Round, RoundUnit, StageScale } from "@/api/client";
import { type Order, orderOf, type Tap } from "./round";

export type Mode = "look" | "lift" | "second";

/** What is written beside the looks. */
export const BESIDE = ["event", "measure", "harm", "note", "photo"] as const;
export type Beside = (typeof BESIDE)[number];

export const isBeside = (over: Over | null): over is Beside =>
	(BESIDE as readonly (string | null)[]).includes(over);

/** What is laid over the desk: one thing at a time. */
export type Over = Beside | "keys" | "fill" | "scan";

/** How a round is gone through: where the cursor stands, in which order, what is laid over it. */
export interface Desk {
	mode: Mode;
	/** The order of looks; lifts and second scores come at random. */
	order: Order;
	/** Counts are entered as new since the last look, not as all so far. */
	byNew: boolean;
	cursor: number;
	/** What was entered last, to be entered again. */
	last: Key | undefined;
	over: Over | null;
}

export type Step =
	| { kind: "went"; cursor: number }
	| { kind: "looked"; key: Key | undefined; cursor: number }
	| { kind: "changed_mode"; mode: Mode; cursor: number }
	| { kind: "changed_order"; order: Order }
	| { kind: "changed_counts"; byNew: boolean }
	| { kind: "opened"; over: Over | null };

export function stepped(desk: Desk, step: Step): Desk {
	switch (step.kind) {
		case "went":
			return { ...desk, cursor: step.cursor, over: desk.over === "scan" ? null : desk.over };
		case "looked":
			return { ...desk, cursor: step.cursor, last: step.key ?? desk.last };
		case "changed_mode":
			return { ...desk, mode: step.mode, cursor: step.cursor };
		case "changed_order":
			return { ...desk, order: step.order };
		case "changed_counts":
			return { ...desk, byNew: step.byNew };
		case "opened":
			return { ...desk, over: step.over };
	}
}

/** The places of the units in the order they are gone through. */
export function pathOf(round: Round, mode: Mode, order: Order): readonly number[] {
	return orderOf(round, mode === "look" ? order : "shuffled");
}

/** Whether a unit still waits for what is entered. */
export function waitsFor(mode: Mode, unit: RoundUnit): boolean {
	if (mode === "look") return !unit.current;
	return mode === "lift" ? !unit.score : unit.second && unit.second_score === null;
}

/** The first unit of the order that waits, or the first of all. */
export function firstOpen(round: Round, mode: Mode, path: readonly number[]): number {
	const at = path.find((i) => {
		const unit = round.units[i];
		return unit && !unit.gone && waitsFor(mode, unit);
	});
	return at ?? path[0] ?? 0;
}

export const NO_FLAGS = { shoot: false, wilted: false };

/** The key that enters what a tap entered. */
export function keyOfTap(tap: Tap & { kind: "look" }, ladder: StageScale): Key | undefined {
	if (tap.loss) return ladder.exits.find((e) => e.cause === tap.loss);
	if (tap.removed) return ladder.exits.find((e) => e.cause === "removed");
	return ladder.stages.find((s) => s.code === tap.stage);
}
