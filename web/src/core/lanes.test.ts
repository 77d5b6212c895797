import { describe, expect, it } from "vitest";
import { cumulative, dayScale, type LineSpan, stepArea, stepPath, ticks } from "./lanes";

const line = (by: number | null, after: number | null = null): LineSpan => ({
	after,
	by,
	lost: null,
	removed: null,
	last: 10,
});

describe("lanes", () => {
	it("puts day 0 left and the last day right, and nothing beyond", () => {
		const x = dayScale(42, 420);
		expect([x(0), x(21), x(42), x(60)]).toEqual([0, 210, 420, 420]);
	});

	it("ticks whole weeks and always the last day, without crowding it", () => {
		expect(ticks(42)).toEqual([0, 7, 14, 21, 28, 35, 42]);
		expect(ticks(23)).toEqual([0, 7, 14, 23]);
		expect(ticks(1)).toEqual([0, 1]);
	});

	it("draws the pace line as steps down from the top", () => {
		expect(stepPath([{ day: 5, share: 0.5 }], 10, 100, 40)).toBe("M0 0H50.0V20.0H100");
		expect(stepPath([], 10, 100, 40)).toBe("M0 0H100");
		expect(stepPath([], 10, 100, 40, 6)).toBe("M0 0H60");
	});

	it("counts the never struck in the share of a band", () => {
		const lines = [line(3), line(3), line(8), line(null)];
		expect(cumulative(lines, (l) => l.by)).toEqual([
			{ day: 3, share: 0.5 },
			{ day: 8, share: 0.75 },
		]);
		expect(stepArea([{ day: 5, share: 0.25 }], 10, 100, 40, true)).toBe("M0 40H50.0V30.0H100V40Z");
	});
});
