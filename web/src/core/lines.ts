/** The lines of a lane: which are shown, in what order, and what each says. */

import type { LineSpan } from "./lanes";

export interface UnitLine extends LineSpan {
	unit: number;
}

export interface Stand {
	code: string;
	tray: number;
	row: number;
	col: number;
	block: number;
}

export type Order = "time" | "place" | "block";

/** Lines as they are drawn: by time as they come, else by where their unit stands. */
export function ordered<T extends UnitLine>(
	lines: readonly T[],
	order: Order,
	stands: readonly Stand[],
	struckOnly: boolean,
): T[] {
	const shown = lines.filter((l) => !struckOnly || l.by !== null);
	if (order === "time" || stands.length === 0) return [...shown];
	const key = (l: T): number[] => {
		const s = stands[l.unit];
		if (!s) return [0];
		const place = [s.tray, s.row, s.col];
		return order === "block" ? [s.block, l.by ?? 1e6] : place;
	};
	return [...shown].sort((a, b) => compare(key(a), key(b)));
}

function compare(a: readonly number[], b: readonly number[]): number {
	for (let i = 0; i < a.length; i++) {
		const d = (a[i] ?? 0) - (b[i] ?? 0);
		if (d !== 0) return d;
	}
	return 0;
}

/** One line in words, for those who hover, tab or listen. */
export function lineSays(line: LineSpan, stand: Stand | undefined): string {
	const where = stand ? `${stand.code}, block ${stand.block + 1}: ` : "";
	const parts: string[] = [];
	if (line.by !== null) parts.push(`not yet on day ${line.after ?? 0}, seen on day ${line.by}`);
	if (line.lost !== null)
		parts.push(`lost by day ${line.lost}${line.by === null ? ", counts as no success" : ""}`);
	if (line.removed !== null) parts.push(`removed after day ${line.removed}`);
	if (parts.length === 0) parts.push(`not yet on day ${line.last}`);
	return `${where}${parts.join("; ")}`;
}

/** A day on the heat clock: degree-days by the end of it, by straight line beyond what is known. */
export function heatClock(upto: readonly number[]): (day: number) => number {
	const last = upto.length - 1;
	const end = upto[last] ?? 0;
	const a_day = last > 0 ? end / last : 0;
	return (day) => (day <= last ? (upto[Math.max(0, day)] ?? 0) : end + (day - last) * a_day);
}
