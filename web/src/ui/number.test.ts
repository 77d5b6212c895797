import { describe, expect, it } from "vitest";
import { readNumber } from "./number";

describe("a number as it is written", () => {
	it.each([
		["12.5", 12.5],
		["12,5", 12.5],
		["7,", 7],
		[",5", 0.5],
		["½", 0.5],
		["1½", 1.5],
		["1 1/2", 1.5],
		["−3", -3],
		["1 234", 1234],
		["1 234,5", 1234.5],
		["1,234.5", 1234.5],
		["1.234,5", 1234.5],
		["0,125", 0.125],
		[" 42\u00a0", 42],
	])("%s", (written, value) => expect(readNumber(written)).toEqual({ value }));

	it.each(["6 weeks", "1e9", "five", "12..5", "1/0", "Infinity", "0x10", "7 8"])(
		"%s is said and not taken",
		(written) => {
			const found = readNumber(written);
			expect(found.value).toBeNull();
			expect(found.fault).toContain(`“${written}”`);
		},
	);

	it("asks where a comma can be read in two ways", () => {
		expect(readNumber("1,500").fault).toContain("two numbers");
	});

	it("keeps to its limits", () => {
		expect(readNumber("3,7", { isWhole: true }).fault).toContain("whole number");
		expect(readNumber("-1", { min: 0 }).fault).toContain("0 or more");
		expect(readNumber("999", { max: 200 }).fault).toContain("200 or less");
		expect(readNumber("")).toEqual({ value: null });
	});
});
