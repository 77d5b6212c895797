/**
 * Geometry of the lanes: what is drawn of a plant, curves as steps, ticks of days. The report draws by the same
 * rules (`core/assess/lane_geometry.py`); `tests/shared/cases.json` drives both.
 */

export interface Step {
	day: number;
	share: number;
}

export interface LineSpan {
	after: number | null;
	by: number | null;
	lost: number | null;
	removed: number | null;
	last: number;
}

/** Above this many propagules a lane is drawn as a band. */
export const MOST_LINES = 60;

export interface LineMarks {
	/** End of the thin line before anything shows. */
	thinTo: number;
	/** From the last look without to the first look with. */
	pale: readonly [number, number] | null;
	/** From there to its end. */
	dark: readonly [number, number] | null;
	end: "lost" | "removed" | "waiting" | "none";
	endAt: number;
}

/** The marks of one plant's line, in days. */
export function lineMarks(line: LineSpan): LineMarks {
	const { after, by, lost, removed, last } = line;
	const end =
		lost !== null ? "lost" : removed !== null ? "removed" : by === null ? "waiting" : "none";
	const endAt = lost ?? removed ?? last;
	if (by === null) return { thinTo: endAt, pale: null, dark: null, end, endAt };
	const stop = lost ?? Math.max(last, by);
	return { thinTo: by, pale: [after ?? 0, by], dark: [by, stop], end, endAt };
}

/** Days that get a tick: every second day, whole weeks or four weeks, and the last day. */
export function ticks(lastDay: number): number[] {
	const every = lastDay <= 14 ? 2 : lastDay <= 70 ? 7 : 28;
	const days = [0];
	for (let d = every; d < lastDay - every / 2; d += every) days.push(d);
	return [...days, lastDay];
}

/** Share of all for which a thing had happened by each day on which it did, as steps. */
export function cumulative(days: readonly (number | null)[]): Step[] {
	const known = days.filter((d): d is number => d !== null).sort((a, b) => a - b);
	return known
		.map((day, i) => ({ day, share: (i + 1) / days.length }))
		.filter(({ day }, i) => known[i + 1] !== day);
}
