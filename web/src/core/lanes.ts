/**
 * Geometry of the lanes: what is drawn of a plant, curves as steps, ticks. The report draws by the same
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

/** A step curve as an SVG path until a day, share 0 at the top and 1 at the bottom of the lane. */
export function stepPath(
	curve: readonly Step[],
	x: (day: number) => number,
	height: number,
	until: number,
): string {
	let path = "M0 0";
	for (const { day, share } of curve)
		path += `H${x(day).toFixed(1)}V${(share * height).toFixed(1)}`;
	return `${path}H${x(until)}`;
}

/** Share of all for which a thing had happened by each day on which it did, as steps. */
export function cumulative(days: readonly (number | null)[]): Step[] {
	const known = days.filter((d): d is number => d !== null).sort((a, b) => a - b);
	return known
		.map((day, i) => ({ day, share: (i + 1) / days.length }))
		.filter(({ day }, i) => known[i + 1] !== day);
}

/** The area between the top (or bottom) of the lane and a step curve. */
export function stepArea(
	curve: readonly Step[],
	x: (day: number) => number,
	width: number,
	height: number,
	fromBottom = false,
): string {
	const y = (share: number) => (fromBottom ? height - share * height : share * height);
	const base = fromBottom ? height : 0;
	let path = `M0 ${base}`;
	for (const { day, share } of curve) path += `H${x(day).toFixed(1)}V${y(share).toFixed(1)}`;
	return `${path}H${width}V${base}Z`;
}

/** Ticks of a clock that does not run in days: round values up to its end. */
export function valueTicks(end: number): number[] {
	const step = [10, 20, 25, 50, 100, 200, 250, 500, 1000].find((s) => end / s <= 7) ?? 2000;
	const out: number[] = [];
	for (let v = 0; v < end - step / 2; v += step) out.push(v);
	return [...out, Math.round(end)];
}
