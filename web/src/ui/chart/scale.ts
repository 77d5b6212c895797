/** Scales of every drawing, on d3-scale. */

import { scaleLinear } from "d3-scale";

type Span = readonly [number, number];

/** Values to pixels. */
export type Scale = (value: number) => number;

/** A linear scale from a span of values to a span of pixels; a span of nothing maps to the middle. */
export function linear(from: Span, to: Span): Scale {
	return scaleLinear(from, to);
}

/** A span of whole tens (or other steps) around all values, 0 among them. */
export function spanOfTens(values: readonly number[], step = 10): [number, number] {
	const low = Math.min(0, ...values);
	const high = Math.max(0, ...values);
	return [Math.floor(low / step) * step, Math.max(step, Math.ceil(high / step) * step)];
}

/** Marks at round values within a span, about six. */
export function marks(span: Span): number[] {
	return scaleLinear(span, [0, 1]).ticks(6);
}

/** Marks of a clock that does not run in days: round values, and its end. */
export function marksToEnd(end: number): number[] {
	const round = marks([0, end]);
	const step = (round[1] ?? end) - (round[0] ?? 0);
	return [...round.filter((v) => v < end - step / 2), Math.round(end)];
}
