import { describe, expect, it } from "vitest";
import { finds, type Page, within } from "./library";

const page = {
	id: "seed",
	title: "Seed",
	about: "",
	tables: [
		{
			title: "Days",
			heads: ["crop", "20 °C"],
			rows: [
				["beet", "6.2"],
				["pea", "7.5"],
			],
			own: ["", "half by day 8"],
			source: "S",
			sure: "high",
		},
	],
	facts: [{ says: "Soak peas under 8 hours.", source: "common practice", sure: "medium" }],
} as Page;

describe("the library's search", () => {
	it("wants every word, in any case and anywhere", () => {
		expect(finds("SOAK hours", "Soak peas under 8 hours.")).toBe(true);
		expect(finds("soak days", "Soak peas under 8 hours.")).toBe(false);
	});

	it("keeps rows and facts that hold it, own values beside their rows", () => {
		const [found] = within([page], "pea");
		expect(found?.tables[0]?.rows).toEqual([["pea", "7.5"]]);
		expect(found?.tables[0]?.own).toEqual(["half by day 8"]);
		expect(found?.facts).toHaveLength(1);
		expect(within([page], "beet")[0]?.facts).toEqual([]);
	});

	it("leaves a page of that title whole, and leaves out what holds nothing", () => {
		expect(within([page], "seed")).toEqual([page]);
		expect(within([page], "orchid")).toEqual([]);
		expect(within([page], " ")).toEqual([page]);
	});
});
