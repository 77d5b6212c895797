import { useEffect, useRef } from "react";
import type { RoundUnit } from "@/api/client";
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
}

/** A panel's own keys: true when it took the key. */
export type TakeKey = (key: string) => boolean;

/** Where a panel hangs its keys. */
export interface PanelKeys {
	current: TakeKey;
}

/** Arrows move, Backspace steps back, z undoes, j jumps to a code, ? opens the sheet; every other key goes to the open panel. */
export function useRoundKeys(keys: RoundKeys): PanelKeys {
	const latest = useRef(keys);
	latest.current = keys;
	const panel = useRef<TakeKey>(() => false);
	useEffect(() => {
		const onKey = (e: KeyboardEvent) => {
			const target = e.target as HTMLElement;
			const isField = /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName);
			if (e.metaKey || e.ctrlKey || e.altKey || isField) return;
			const isControl = target.tagName === "BUTTON" || target.tagName === "A";
			if (isControl && (e.key === "Enter" || e.key === " ") && !target.dataset.cell) return;
			const { units, cursor, setCursor, undo, help, jump } = latest.current;
			if (panel.current(e.key)) e.preventDefault();
			else if (e.key.startsWith("Arrow")) {
				e.preventDefault();
				setCursor(step(units, cursor, e.key));
			} else if (e.key === "Backspace") {
				e.preventDefault();
				setCursor(Math.max(0, cursor - 1));
			} else if (e.key === "z") undo();
			else if (e.key === "?") help();
			else if (e.key === "j") {
				e.preventDefault();
				jump();
			}
		};
		window.addEventListener("keydown", onKey);
		return () => window.removeEventListener("keydown", onKey);
	}, []);
	return panel;
}
