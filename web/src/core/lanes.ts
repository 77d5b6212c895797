/** Geometry of the lanes: days to x, propagules to y, curves to steps. */

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

/** Days that get a tick: whole weeks where they fit, and the last day. */
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

/** Share of lines for which `day(line)` lies at or before each day, as steps. */
export function cumulative(
	lines: readonly LineSpan[],
	day: (line: LineSpan) => number | null,
): Step[] {
	const days = lines.map(day).filter((d): d is number => d !== null);
	const steps: Step[] = [];
	for (const d of [...new Set(days)].sort((a, b) => a - b)) {
		steps.push({ day: d, share: days.filter((x) => x <= d).length / lines.length });
	}
	return steps;
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
