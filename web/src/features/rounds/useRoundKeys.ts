import { type RefObject, useEffect, useEffectEvent, useRef } from "react";
import type { RoundUnit } from "@/api/client";
import type { Beside } from "./desk";
import { step } from "./round";

export interface RoundKeys {
	units: readonly RoundUnit[];
	cursor: number;
	setCursor: (i: number) => void;
	undo: () => void;
	/** Opens the sheet of keys. */
	help: () => void;
	/** Leads to the field for the code of a label. */
	jump: () => void;
	/** One back in the order of the round. */
	back: () => void;
	/** Enters again what was entered last. */
	again: () => void;
	/** Asks whether to fill the row. */
	fill: () => void;
	/** The next way over the bench. */
	order: () => void;
	/** Opens what is written beside the looks. */
	beside: (what: Beside) => void;
}

const BESIDE_KEYS: Record<string, Beside> = {
	e: "event",
	t: "measure",
	n: "note",
	p: "photo",
};

/** A panel's own keys: true when it took the key. */
export type TakeKey = (key: string) => boolean;

/** Where a panel hangs its keys; null while none is open. */
export type PanelKeys = RefObject<TakeKey | null>;

/** The keys of a round, each shown on its sheet; the open panel takes its own first. */
export function useRoundKeys(keys: RoundKeys): PanelKeys {
	const panel = useRef<TakeKey>(null);
	const onKey = useEffectEvent((e: KeyboardEvent) => {
		const target = e.target as HTMLElement;
		const isField = /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName);
		if (e.metaKey || e.ctrlKey || e.altKey || isField) return;
		const isControl = target.tagName === "BUTTON" || target.tagName === "A";
		if (isControl && (e.key === "Enter" || e.key === " ") && !target.dataset.cell) return;
		if (document.querySelector("[aria-modal=true]")) return;
		const { units, cursor, setCursor, undo, help, jump, back, again, fill, order, beside } = keys;
		if (panel.current?.(e.key)) e.preventDefault();
		else if (e.key.startsWith("Arrow")) {
			e.preventDefault();
			setCursor(step(units, cursor, e.key));
		} else if (e.key === "Backspace") {
			e.preventDefault();
			back();
		} else if (e.key === "z") undo();
		else if (e.key === "?") help();
		else if (e.key === "j") {
			e.preventDefault();
			jump();
		} else if (e.key === ".") again();
		else if (e.key === "f") fill();
		else if (e.key === "o") order();
		else {
			const what = BESIDE_KEYS[e.key];
			if (!what) return;
			e.preventDefault();
			beside(what);
		}
	});
	useEffect(() => {
		const heard = (e: KeyboardEvent) => onKey(e);
		window.addEventListener("keydown", heard);
		return () => window.removeEventListener("keydown", heard);
	}, []);
	return panel;
}
