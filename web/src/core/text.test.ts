import { describe, expect, it } from "vitest";
import {
	chance,
	count,
	dateOfDay,
	dayMonth,
	decimal,
	percent,
	points,
	significant,
	span,
} from "./text";

describe("text", () => {
	it("says gaps in points with their sign", () => {
		expect(points(0.126)).toBe("+13 points");
		expect(points(-0.06)).toBe("−6 points");
		expect(points(-0.125)).toBe("−13 points");
		expect(points(0.01)).toBe("+1 point");
		expect(points(-0.001)).toBe("0 points");
	});

	it("writes decimals as the place does, with a true minus", () => {
		const mark = new Intl.NumberFormat().format(1.5).charAt(1);
		expect(decimal(-3.16, 1)).toBe(`−3${mark}2`);
		expect(decimal(2, 2)).toBe(`2${mark}00`);
		expect([significant(0.012345), significant(1234)]).toEqual([`0${mark}0123`, "1230"]);
	});

	it("shows whole percent and no more", () => {
		expect(percent(0.4375)).toBe("44%");
		expect(span(0.2299, 0.668)).toBe("23–67");
	});

	it("never shows a p as nought", () => {
		expect(chance(0.0000001)).toBe("below 0.001");
		expect(chance(0.0499)).toBe("0.050");
		expect(chance(0.5)).toBe("0.50");
	});

	it("counts in words", () => {
		expect(count(1, "look")).toBe("1 look");
		expect(count(3, "look")).toBe("3 looks");
	});

	it("steps days over the end of a month", () => {
		const shown = dateOfDay("2026-02-27", 2);
		expect(shown).toBe(dayMonth("2026-03-01"));
	});
});
