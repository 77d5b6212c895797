import { describe, expect, it } from "vitest";
import { linear, marks, marksToEnd, spanOfTens } from "./scale";

describe("scales", () => {
	it("map ends to ends, and survive a span of nothing", () => {
		const x = linear([-50, 50], [0, 200]);
		expect([x(-50), x(0), x(50)]).toEqual([0, 100, 200]);
		expect(linear([3, 3], [0, 10])(3)).toBe(5);
	});
	it("hold 0 and end on tens", () => {
		expect(spanOfTens([12, 47])).toEqual([0, 50]);
		expect(spanOfTens([-13, 4])).toEqual([-20, 10]);
		expect(spanOfTens([])).toEqual([0, 10]);
	});
	it("mark a span without crowding it", () => {
		expect(marks([0, 50])).toEqual([0, 10, 20, 30, 40, 50]);
		expect(marks([-100, 100]).length).toBeLessThanOrEqual(9);
		expect(marks([0, 10])).toEqual([0, 2, 4, 6, 8, 10]);
	});
	it("mark a clock to its very end, which crowds out the round value beside it", () => {
		expect(marksToEnd(325)).toEqual([0, 50, 100, 150, 200, 250, 325]);
		expect(marksToEnd(310)).toEqual([0, 50, 100, 150, 200, 250, 310]);
		expect(marksToEnd(0)).toEqual([0]);
	});
});
