import { describe, expect, it } from "vitest";
import cases from "../../../tests/shared/cases.json";
import { cumulative, lineMarks, MOST_LINES, stepArea, stepPath, ticks, valueTicks } from "./lanes";
import { linear } from "./scale";

const x = linear([0, 10], [0, 100]);

describe("lanes", () => {
	it.each(cases.lanes.ticks)("tick the days of $last_day", ({ last_day, ticks: days }) => {
		expect(ticks(last_day)).toEqual(days);
	});

	it.each(cases.lanes.lines)("mark the line of %o", ({ line, marks }) => {
		const { thin_to, end_at, ...same } = marks;
		expect(lineMarks(line)).toEqual({ ...same, thinTo: thin_to, endAt: end_at });
	});

	it.each(cases.lanes.cumulative)("count up $days", ({ days, steps }) => {
		expect(cumulative(days).map((s) => [s.day, s.share])).toEqual(steps);
		expect(MOST_LINES).toBe(cases.lanes.most_lines);
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

	it("fills a band from below for what was lost", () => {
		expect(stepArea([{ day: 5, share: 0.25 }], x, 100, 40, true)).toBe("M0 40H50.0V30.0H100V40Z");
	});
});
