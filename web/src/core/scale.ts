/** Scales of the drawings beside the lanes. */

/** A linear scale from a span of values to a span of pixels. */
export function linear(from: readonly [number, number], to: readonly [number, number]) {
	const width = from[1] - from[0] || 1;
	return (value: number) => to[0] + ((value - from[0]) / width) * (to[1] - to[0]);
}

/** A span of whole tens around all values, 0 among them. */
export function spanOfTens(values: readonly number[]): [number, number] {
	const low = Math.min(0, ...values);
	const high = Math.max(0, ...values);
	return [Math.floor(low / 10) * 10, Math.max(10, Math.ceil(high / 10) * 10)];
}

/** Marks at whole steps within a span, no more than about seven. */
export function marks([low, high]: readonly [number, number]): number[] {
	const step = [5, 10, 20, 25, 50, 100].find((s) => (high - low) / s <= 7) ?? 200;
	const out: number[] = [];
	for (let v = Math.ceil(low / step) * step; v <= high; v += step) out.push(v);
	return out;
}
