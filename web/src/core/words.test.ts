import { describe, expect, it } from "vitest";
import { daysTyped, looksFault, looksSaid, looksTyped, sidesSay, valuesTyped } from "./words";

describe("what is typed into a plan", () => {
	it("reads days parted by anything, and refuses what is no day", () => {
		expect(daysTyped("7, 14 21;28")).toEqual([7, 14, 21, 28]);
		expect(daysTyped("")).toEqual([]);
		expect(daysTyped("7, soon")).toBeNull();
		expect(daysTyped("-3")).toBeNull();
	});

	it("reads looks as every so many days or as the very days, and writes them so", () => {
		expect(looksTyped("every 3 days")).toEqual({ every: 3 });
		expect(looksTyped("Every 14")).toEqual({ every: 14 });
		expect(looksTyped("weekly")).toEqual({ every: 7 });
		expect(looksTyped("Every 2 weeks")).toEqual({ every: 14 });
		expect(looksTyped("every day")).toEqual({ every: 1 });
		expect(looksTyped("7, 14, 42")).toEqual({ days: [7, 14, 42] });
		expect(looksTyped("")).toBeNull();
		expect(looksTyped("now and then")).toBeNull();
		expect(looksSaid(3, [])).toBe("every 3 days");
		expect(looksSaid(3, [7, 14])).toBe("7, 14");
	});

	it("reads days of the week from the day it starts", () => {
		const span = { start: "2026-11-28", lastDay: 14 }; // a Saturday
		expect(looksTyped("Mon and Thu", span)).toEqual({ days: [2, 5, 9, 12] });
		expect(looksTyped("every Tuesday, fridays", span)).toEqual({ days: [3, 6, 10, 13] });
		expect(looksTyped("Mon and Thu")).toBeNull();
		expect(looksFault("Mon and Thu", { start: "", lastDay: 14 })).toContain("the day it starts");
		expect(looksFault("now and then", span)).toContain("such as 7, 14, 21");
		expect(looksTyped("month", span)).toBeNull();
	});

	it("reads values with either decimal sign, and a dash for none", () => {
		expect(valuesTyped("8.5\n7,25 - x 6")).toEqual([8.5, 7.25, null, null, 6]);
		expect(valuesTyped("8.5 tall")).toBeNull();
	});

	it("says what stands around the bench", () => {
		expect(sidesSay(["wall", "", "", "door"])).toBe("door at the left, wall at the top");
		expect(sidesSay(["", "", "", ""])).toBe("");
	});
});
