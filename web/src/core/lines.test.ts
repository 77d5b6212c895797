import { describe, expect, it } from "vitest";
import { heatClock, lineSays, ordered, type Stand, type UnitLine } from "./lines";

const line = (unit: number, by: number | null, more: Partial<UnitLine> = {}): UnitLine => ({
	unit,
	after: by === null ? null : by - 3,
	by,
	lost: null,
	removed: null,
	last: 42,
	...more,
});
const stand = (code: string, row: number, col: number, block = 0): Stand => ({
	code,
	tray: 0,
	row,
	col,
	block,
});
const STANDS = [stand("B2", 1, 1, 1), stand("A1", 0, 0), stand("A3", 0, 2)];
const LINES = [line(0, 12), line(1, 21), line(2, null)];

describe("lines of a lane", () => {
	it("stand by time as they came, by place, or by block", () => {
		expect(ordered(LINES, "time", STANDS, false).map((l) => l.unit)).toEqual([0, 1, 2]);
		expect(ordered(LINES, "place", STANDS, false).map((l) => l.unit)).toEqual([1, 2, 0]);
		expect(ordered(LINES, "block", STANDS, false).map((l) => l.unit)).toEqual([1, 2, 0]);
	});
	it("may be those of the struck alone", () => {
		expect(ordered(LINES, "time", STANDS, true).map((l) => l.unit)).toEqual([0, 1]);
	});
	it("keep their order where nobody knows where they stood", () => {
		expect(ordered(LINES, "place", [], false).map((l) => l.unit)).toEqual([0, 1, 2]);
	});
	it("say what was seen", () => {
		expect(lineSays(line(0, 12), STANDS[0])).toBe("B2, block 2: not yet on day 9, seen on day 12");
		expect(lineSays(line(2, null), undefined)).toBe("not yet on day 42");
		expect(lineSays(line(2, null, { lost: 9 }), undefined)).toBe(
			"lost by day 9, counts as no success",
		);
		expect(lineSays(line(2, null, { removed: 18 }), undefined)).toBe("removed after day 18");
	});
	it("run on a heat clock that goes on as it went", () => {
		const at = heatClock([0, 10, 25]);
		expect([at(0), at(2), at(4)]).toEqual([0, 25, 50]);
		expect(heatClock([])(3)).toBe(0);
	});
});
