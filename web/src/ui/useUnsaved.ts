import { useState } from "react";

const PREFIX = "racecard.unsaved.";

/**
 * What is half entered, kept until it is saved: another plant touched, Back or a reload lose
 * nothing. It lasts as long as this window.
 *
 * @param key what it belongs to, such as the trial, the day, the plant and the form.
 * @param start what stands there before anything is entered.
 * @returns the value, a way to set it, a way to forget it, and whether it holds anything unsaved.
 */
export function useUnsaved<T>(key: string, start: T): [T, (value: T) => void, () => void, boolean] {
	const [held, setHeld] = useState<{ key: string; value: T | undefined }>(() => ({
		key,
		value: kept<T>(key),
	}));
	let current = held;
	if (held.key !== key) {
		current = { key, value: kept<T>(key) };
		setHeld(current);
	}
	const set = (value: T) => {
		const isStart = JSON.stringify(value) === JSON.stringify(start);
		setHeld({ key, value: isStart ? undefined : value });
		keep(key, isStart ? undefined : value);
	};
	const forget = () => {
		setHeld({ key, value: undefined });
		keep(key, undefined);
	};
	return [current.value ?? start, set, forget, current.value !== undefined];
}

function kept<T>(key: string): T | undefined {
	try {
		const text = sessionStorage.getItem(PREFIX + key);
		return text === null ? undefined : (JSON.parse(text) as T);
	} catch {
		return undefined;
	}
}

function keep(key: string, value: unknown): void {
	try {
		if (value === undefined) sessionStorage.removeItem(PREFIX + key);
		else sessionStorage.setItem(PREFIX + key, JSON.stringify(value));
	} catch {
		// no room, or storage switched off: it still stands on the page
	}
}
