import { describe, expect, it } from "vitest";
import { cumulative, type LineSpan, stepArea, stepPath, ticks, valueTicks } from "./lanes";
import { linear } from "./scale";

const x = linear([0, 10], [0, 100]);

const line = (by: number | null, after: number | null = null): LineSpan => ({
	after,
	by,
	lost: null,
	removed: null,
	last: 10,
});

describe("lanes", () => {
	it("ticks whole weeks and always the last day, without crowding it", () => {
		expect(ticks(42)).toEqual([0, 7, 14, 21, 28, 35, 42]);
		expect(ticks(23)).toEqual([0, 7, 14, 23]);
		expect(ticks(1)).toEqual([0, 1]);
	});

	it("ticks round values of any other clock", () => {
		expect(valueTicks(325)).toEqual([0, 50, 100, 150, 200, 250, 300, 325].slice(0, 6).concat(325));
		expect(valueTicks(0)).toEqual([0]);
	});

	it("draws the pace line as steps down from the top", () => {
		expect(stepPath([{ day: 5, share: 0.5 }], x, 40, 10)).toBe("M0 0H50.0V20.0H100");
		expect(stepPath([], x, 40, 10)).toBe("M0 0H100");
		expect(stepPath([], x, 40, 6)).toBe("M0 0H60");
	});

	it("counts the never struck in the share of a band", () => {
		const lines = [line(3), line(3), line(8), line(null)];
		expect(cumulative(lines, (l) => l.by)).toEqual([
			{ day: 3, share: 0.5 },
			{ day: 8, share: 0.75 },
		]);
		expect(stepArea([{ day: 5, share: 0.25 }], x, 100, 40, true)).toBe("M0 40H50.0V30.0H100V40Z");
	});
});
