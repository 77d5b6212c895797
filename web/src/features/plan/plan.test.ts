import { describe, expect, it } from "vitest";
import {
	addTreatment,
	changeTreatment,
	fieldOf,
	isComplete,
	newDraft,
	typed,
	withKind,
	withoutTreatment,
	withTreatmentAt,
} from "./plan";

const plan = newDraft("UTC").plan;
const silks = ["plain", "halves", "hoops", "chevron"];

describe("a draft plan", () => {
	it("gives a new treatment a silk nobody wears, never plain", () => {
		const more = addTreatment(addTreatment(plan, silks), silks);
		expect(more.treatments.map((t) => t.silk)).toEqual(["plain", "hoops", "halves", "chevron"]);
	});

	it("hands plain to whoever becomes the control", () => {
		const swapped = changeTreatment(plan, 1, { role: "control" });
		expect(swapped.treatments.map((t) => t.silk)).toEqual(["hoops", "plain"]);
		expect(plan.treatments.map((t) => t.silk)).toEqual(["plain", "hoops"]);
	});

	it("puts a removed treatment back where it was", () => {
		const gone = plan.treatments[0];
		if (!gone) throw new Error("no treatment");
		const back = withTreatmentAt(withoutTreatment(plan, 0), 0, gone);
		expect(back.treatments).toEqual(plan.treatments);
	});

	it("takes the usual endpoint of the kind, and leaves a chosen one alone", () => {
		expect(withKind(plan, "seed").endpoint).toBe(3);
		expect(withKind({ ...plan, endpoint: 5 }, "cutting").endpoint).toBe(5);
	});

	it("knows a half-typed number from a number", () => {
		expect(isComplete(plan)).toBe(true);
		expect(isComplete({ ...plan, units: typed("") })).toBe(false);
	});

	it("reads a pointer with or without the plan before it", () => {
		expect(fieldOf("/plan/units")).toBe("units");
		expect(fieldOf("/treatments/1/name")).toBe("treatments/1/name");
	});
});
