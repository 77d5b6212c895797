import { describe, expect, it } from "vitest";
import cases from "../../../tests/shared/cases.json";
import { cumulative, lineMarks, MOST_LINES, ticks } from "./lanes";

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
});
