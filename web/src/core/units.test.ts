import { describe, expect, it } from "vitest";
import { inUnits, spanInUnits, usualSystem } from "./units";

describe("units", () => {
	it("follow the language where nothing was chosen", () => {
		expect([usualSystem("en-US"), usualSystem("en-GB"), usualSystem("pt")]).toEqual([
			"us",
			"metric",
			"metric",
		]);
	});
	it("show freezing, boiling and an inch as they are known there", () => {
		const f = inUnits("°C", "us");
		expect([f.show(0), f.show(100), f.unit]).toEqual([32, 212, "°F"]);
		expect(inUnits("mm", "us").show(25.4)).toBe(1);
	});
	it("keep what has no other unit, and everything in metric", () => {
		expect(inUnits("%", "us")).toMatchObject({ unit: "%" });
		expect(inUnits("°C", "metric").show(18)).toBe(18);
	});
	it("turn a difference without shifting its zero", () => {
		expect(spanInUnits(10, "°C", "us")).toBeCloseTo(18);
		expect(spanInUnits(-10, "mm", "metric")).toBe(-10);
	});
});
