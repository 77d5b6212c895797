import { describe, expect, it } from "vitest";
import { bringsDates, changed, columnsOf, type Grid, laidFrom, linesOf, without } from "./looks";

const GRID: Grid = {
	columns: [{ on: "2026-05-10", day: 5 }],
	units: [
		{ id: "a", name: "A1", treatment: 0, tray: 0, marks: ["6"] },
		{ id: "b", name: "A2", treatment: 1, tray: 0, marks: [""] },
	],
};

describe("looks as a grid", () => {
	it("sends what differs from what is saved, and what was cleared", () => {
		const typed = { "a 2026-05-10": "6", "b 2026-05-10": "3", "a 2026-05-12": "" };
		expect(changed(GRID, typed)).toEqual([{ unit_id: "b", on: "2026-05-10", mark: "3" }]);
		expect(changed(GRID, { "a 2026-05-10": "" })).toEqual([
			{ unit_id: "a", on: "2026-05-10", mark: "" },
		]);
	});

	it("keeps what was typed while the rest was on its way", () => {
		const sent = [{ unit_id: "a", on: "2026-05-10", mark: "5" }];
		const typed = { "a 2026-05-10": "5", "b 2026-05-10": "3" };
		expect(without(typed, sent)).toEqual({ "b 2026-05-10": "3" });
		expect(without({ "a 2026-05-10": "5s" }, sent)).toEqual({ "a 2026-05-10": "5s" });
	});

	it("keeps dates in order, each once", () => {
		expect(columnsOf(GRID, ["2026-05-03", "2026-05-10"])).toEqual(["2026-05-03", "2026-05-10"]);
	});

	it("lays a copied block over the grid, and no further than it reaches", () => {
		const lines = linesOf("3\t4\r\n5\t6\r\n7\t8\r\n");
		expect(laidFrom(GRID, ["2026-05-10"], 1, 0, lines)).toEqual({ "b 2026-05-10": "3" });
		expect(bringsDates(lines)).toBe(false);
		expect(bringsDates(linesOf("Pot\t10/05/2026\nA1\t6"))).toBe(true);
	});
});
