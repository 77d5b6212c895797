/** A point in widths of the photo: x from 0 to 1, y on the same scale. */
export type Point = readonly [number, number];

/** What was marked on a photo: the two ends of a known length, and the lines traced. */
export interface Marks {
	scale: Point[];
	known_mm: number;
	lines: Point[][];
}

const WINDOW = 0.016;
const COUNTED_MM = 5;
const LEAST_SCALE = 0.02;

const apart = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1]);

/** Lengths in mm of the lines, null while the scale cannot be measured by; as `core/log/traces.py`. */
export function lengthsOf({ scale, known_mm, lines }: Marks): number[] | null {
	const [a, b] = scale;
	if (!a || !b || apart(a, b) < LEAST_SCALE || !(known_mm > 0)) return null;
	const perWidth = known_mm / apart(a, b);
	return lines.map((line) => lengthOf(line) * perWidth);
}

/** How many lines are long enough to be counted as roots. */
export const rootsIn = (lengths: readonly number[]) =>
	lengths.filter((x) => Math.round(10 * x) / 10 >= COUNTED_MM).length;

/** Length of a traced line after smoothing, in widths; its two ends stay where they are. */
function lengthOf(line: readonly Point[]): number {
	return steps(smooth(line)).reduce((sum, x) => sum + x, 0);
}

const steps = (line: readonly Point[]) => line.slice(1).map((p, i) => apart(line[i] as Point, p));

function smooth(line: readonly Point[]): Point[] {
	const along = [0];
	for (const step of steps(line)) along.push((along.at(-1) as number) + step);
	const end = along.at(-1) as number;
	return line.map((_, i) => {
		const here = along[i] as number;
		const reach = Math.min(WINDOW, here, end - here) + 1e-12;
		let low = i;
		let high = i;
		while (low > 0 && here - (along[low - 1] as number) <= reach) low--;
		while (high < line.length - 1 && (along[high + 1] as number) - here <= reach) high++;
		const k = Math.min(i - low, high - i);
		const near = line.slice(i - k, i + k + 1);
		const mean = (axis: 0 | 1) => near.reduce((sum, p) => sum + p[axis], 0) / near.length;
		return [mean(0), mean(1)];
	});
}
