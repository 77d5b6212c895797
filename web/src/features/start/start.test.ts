import { describe, expect, it } from "vitest";
import { askedOf, NO_ANSWERS } from "./start";

describe("what is sent of the answers", () => {
	it("asks nothing before there is a number", () => {
		expect(askedOf({ ...NO_ANSWERS, question: "seaweed?" }, "UTC")).toBeUndefined();
	});

	it("leaves to the line what was not changed", () => {
		const sent = askedOf({ ...NO_ANSWERS, plants: 12 }, "UTC");
		expect([sent?.against, sent?.kind, sent?.names, sent?.sites]).toEqual([null, null, null, 1]);
	});

	it("cuts named treatments at their commas", () => {
		const sent = askedOf({ ...NO_ANSWERS, plants: 12, names: "kelp, , honey 5 %" }, "UTC");
		expect(sent?.names).toEqual(["kelp", "honey 5 %"]);
	});
});
