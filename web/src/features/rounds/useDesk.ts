import { useMemo, useReducer, useRef } from "react";
import type { Plan, Round, RoundUnit, StageScale } from "@/api/client";
import { useSearchParams } from "@/ui/routing";
import {
	type Desk,
	firstOpen,
	keyOfTap,
	type Mode,
	NO_FLAGS,
	type Over,
	pathOf,
	stepped,
	waitsFor,
} from "./desk";
import { backFrom, nextOpen, ORDERS, type Order, restOfRow, type Tap, tapOf } from "./round";
import type { useRound } from "./useRound";
import { useRoundKeys } from "./useRoundKeys";

const ORDER_KEPT = "racecard.order";
const COUNTS_KEPT = "racecard.counts";

/** One way through a round: what is entered goes to the log, and the cursor on to the next that waits. */
export function useDesk(
	plan: Pick<Plan, "per_container">,
	round: Round,
	ladder: StageScale,
	log: ReturnType<typeof useRound>,
) {
	const [params] = useSearchParams();
	const [desk, step] = useReducer(stepped, undefined, (): Desk => {
		const order = (localStorage.getItem(ORDER_KEPT) as Order | null) ?? "rows";
		const scanned = round.units.findIndex((u) => u.id === params.get("unit"));
		return {
			mode: "look",
			order,
			byNew: localStorage.getItem(COUNTS_KEPT) === "new",
			cursor: scanned >= 0 ? scanned : firstOpen(round, "look", pathOf(round, "look", order)),
			last: undefined,
			over: null,
		};
	});
	const { mode, cursor, last } = desk;
	const path = useMemo(() => pathOf(round, mode, desk.order), [round, mode, desk.order]);
	const isCounting = (plan.per_container ?? 1) > 1;
	const unit = round.units[cursor];
	const rest = restOfRow(round.units, cursor);
	const jumpField = useRef<HTMLInputElement>(null);

	const after = (done: readonly RoundUnit[]) => {
		const ids = new Set(done.map((u) => u.id));
		return nextOpen(round.units, cursor, (u) => !ids.has(u.id) && waitsFor(mode, u), path);
	};
	const goTo = (to: number) => step({ kind: "went", cursor: to });
	const open = (over: Over | null) => step({ kind: "opened", over });
	const tap = async (what: Tap): Promise<boolean> => {
		if (!unit) return false;
		const kept = log.tap(unit, what);
		const key = what.kind === "look" ? keyOfTap(what, ladder) : undefined;
		step({ kind: "looked", key, cursor: after([unit]) });
		return kept;
	};
	const scoreAgain = (score: number) => {
		if (!unit) return;
		const entry = { kind: "second", scope: "unit", what: "", text: "" } as const;
		void log.write({ ...entry, target: unit.id, values: { score } }).catch(() => {}); // the outbox says so
		goTo(after([unit]));
	};
	const undo = () => {
		const id = log.undo();
		const at = round.units.findIndex((u) => u.id === id);
		if (at >= 0) goTo(at);
	};
	const fill = () => {
		if (last)
			for (const u of rest) void log.tap(u, { ...tapOf(last, NO_FLAGS), as_row: true } as Tap);
		open(null);
		goTo(after(rest));
	};
	const back = () => goTo(backFrom(path, cursor));
	const chooseOrder = (order: Order) => {
		step({ kind: "changed_order", order });
		localStorage.setItem(ORDER_KEPT, order);
	};
	const chooseMode = (next: Mode) => {
		const first = firstOpen(round, next, pathOf(round, next, desk.order));
		step({ kind: "changed_mode", mode: next, cursor: first });
	};
	const chooseCounts = (byNew: boolean) => {
		step({ kind: "changed_counts", byNew });
		localStorage.setItem(COUNTS_KEPT, byNew ? "new" : "all");
	};
	const canRepeat = !isCounting && mode === "look";
	const keys = useRoundKeys({
		units: round.units,
		cursor,
		setCursor: goTo,
		back,
		undo,
		help: () => open("keys"),
		jump: () => jumpField.current?.focus(),
		again: () => last && canRepeat && tap(tapOf(last, NO_FLAGS)),
		fill: () => canRepeat && open("fill"),
		order: () => chooseOrder(ORDERS[(ORDERS.indexOf(desk.order) + 1) % ORDERS.length] ?? "rows"),
		beside: open,
	});
	return {
		...desk,
		unit,
		rest,
		isCounting,
		canRepeat,
		keys,
		jumpField,
		goTo,
		open,
		tap,
		scoreAgain,
		undo,
		fill,
		back,
		chooseOrder,
		chooseMode,
		chooseCounts,
	};
}

export type DeskInUse = ReturnType<typeof useDesk>;
