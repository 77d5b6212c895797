import { describe, expect, it } from "vitest";
import type { Curve } from "@/api/client";
import { stretches } from "./CurveDrawing";

const day = (n: number) => ({ day: n }) as Curve["days"][number];

describe("a curve", () => {
	it("is broken where days have no reading, so that no line is drawn over a gap", () => {
		const runs = stretches([day(0), day(1), day(4), day(6), day(7)]);
		expect(runs.map((run) => run.map((d) => d.day))).toEqual([[0, 1], [4], [6, 7]]);
		expect(stretches([])).toEqual([]);
	});
});
