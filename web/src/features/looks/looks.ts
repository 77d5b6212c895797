import type { Schemas } from "@/api/client";

export type Grid = Schemas["GridOut"];
export type Marked = Schemas["MarkedIn"];

/** What was typed and is not saved yet: a mark by unit and date. */
export type Changes = Record<string, string>;

export const keyOf = (unitId: string, on: string) => `${unitId} ${on}`;

/** The columns to show: dates with looks, and those that were added, in order. */
export function columnsOf(grid: Grid, added: readonly string[]): string[] {
	return [...new Set([...grid.columns.map((c) => c.on), ...added])].sort();
}

/** The mark that is saved in a cell, "" for none. */
export function savedMark(grid: Grid, unit: Grid["units"][number], on: string): string {
	const at = grid.columns.findIndex((c) => c.on === on);
	return at < 0 ? "" : (unit.marks[at] ?? "");
}

/** What is to be sent: the cells that say something else than what is saved. */
export function changed(grid: Grid, changes: Changes): Marked[] {
	return grid.units.flatMap((unit) =>
		Object.keys(changes)
			.filter((key) => key.startsWith(`${unit.id} `))
			.map((key) => ({ unit_id: unit.id, on: key.slice(unit.id.length + 1) }))
			.map((at) => ({ ...at, mark: changes[keyOf(at.unit_id, at.on)] ?? "" }))
			.filter((cell) => cell.mark.trim() !== savedMark(grid, unit, cell.on)),
	);
}

/** What is still unsaved once these cells are: a cell typed anew meanwhile stays. */
export const without = (changes: Changes, saved: readonly Marked[]): Changes => {
	const sent = new Map(saved.map((c) => [keyOf(c.unit_id, c.on), c.mark]));
	return Object.fromEntries(
		Object.entries(changes).filter(([key, mark]) => sent.get(key) !== mark),
	);
};

/** The cells of a text copied from a sheet. */
export const linesOf = (text: string): string[][] =>
	text
		.replace(/\r\n?/g, "\n")
		.replace(/\n$/, "")
		.split("\n")
		.map((line) => line.split("\t"));

/** Whether a copied text brings its own dates along, and not marks alone. */
export const bringsDates = (lines: string[][]): boolean =>
	lines.length > 1 && (lines[0] ?? []).some((cell) => /\d{4}|\d[./-]\d|day\s*\d/i.test(cell));

/** Copied marks laid over the grid from one cell on, as far as it reaches. */
export function laidFrom(
	grid: Grid,
	columns: readonly string[],
	row: number,
	column: number,
	lines: string[][],
): Changes {
	const out: Changes = {};
	lines.forEach((line, down) => {
		line.forEach((mark, right) => {
			const unit = grid.units[row + down];
			const on = columns[column + right];
			if (unit && on && mark.trim()) out[keyOf(unit.id, on)] = mark.trim();
		});
	});
	return out;
}

/** Days from the first date to another. */
export const daysFrom = (start: string, on: string): number =>
	Math.round((Date.parse(`${on}T12:00Z`) - Date.parse(`${start}T12:00Z`)) / 86_400_000);
