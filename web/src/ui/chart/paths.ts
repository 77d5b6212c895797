/** Paths of every drawing, on d3-shape. */

import { area, curveStepAfter, line } from "d3-shape";
import type { Step } from "@/core/lanes";
import type { Scale } from "./scale";

type Point = readonly [number, number];

/** A tenth of a pixel is enough for any screen. */
const DIGITS = 1;

/** A line through points. */
export function linePath(points: readonly Point[]): string {
	return (
		line<Point>(
			(p) => p[0],
			(p) => p[1],
		).digits(DIGITS)(points) ?? ""
	);
}

/** The area between a lower and an upper edge; each row is x, lower, upper. */
export function bandPath(rows: readonly (readonly [number, number, number])[]): string {
	const band = area<(typeof rows)[number]>(
		(r) => r[0],
		(r) => r[1],
		(r) => r[2],
	);
	return band.digits(DIGITS)(rows) ?? "";
}

/** A step curve until a day, share 0 at the top and 1 at the bottom of the lane. */
export function stepPath(curve: readonly Step[], x: Scale, height: number, until: number): string {
	const steps = corners(curve, x, x(until), (share) => share * height);
	return (
		line<Point>(
			(p) => p[0],
			(p) => p[1],
		)
			.curve(curveStepAfter)
			.digits(DIGITS)(steps) ?? ""
	);
}

/** The area between the top (or bottom) of the lane and a step curve. */
export function stepArea(
	curve: readonly Step[],
	x: Scale,
	width: number,
	height: number,
	fromBottom = false,
): string {
	const y = (share: number) => (fromBottom ? height - share * height : share * height);
	const steps = area<Point>(
		(p) => p[0],
		y(0),
		(p) => p[1],
	).curve(curveStepAfter);
	return steps.digits(DIGITS)(corners(curve, x, width, y)) ?? "";
}

/** From nothing at the left edge over every step to the right edge. */
function corners(curve: readonly Step[], x: Scale, end: number, y: Scale): Point[] {
	const steps = curve.map(({ day, share }): Point => [x(day), y(share)]);
	return [[0, y(0)], ...steps, [end, y(curve.at(-1)?.share ?? 0)]];
}
