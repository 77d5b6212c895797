import { describe, expect, it } from "vitest";
import { momentOf, namesOf, oneRowEach, placed, silksOf, sized, standing } from "./begun";

describe("a trial that has begun", () => {
	it("takes each treatment once, and keeps what stands when the bench grows", () => {
		expect(namesOf("water, seaweed,, water ")).toEqual(["water", "seaweed"]);
		const bench = placed(oneRowEach(2, 2), 1, 1, null);
		expect(sized(bench, 3, 3)).toEqual([
			[0, 0, null],
			[1, null, null],
			[null, null, null],
		]);
		expect(standing(bench, 2)).toEqual([2, 1]);
	});

	it("dresses the control plain, and sets no start in the future", () => {
		expect(silksOf(["plain", "halves", "hoops", "spots"], 3, 1)).toEqual([
			"hoops",
			"plain",
			"spots",
		]);
		expect(silksOf(["plain", "halves"], 2, null)).toEqual(["halves", "plain"]);
		const early = new Date("2026-05-10T07:00:00");
		expect(momentOf("2026-05-10", early)).toBe(early.toISOString());
		expect(momentOf("2026-05-09", early)).toBe(new Date("2026-05-09T12:00").toISOString());
	});
});
