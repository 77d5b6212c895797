import { describe, expect, it } from "vitest";
import { bandPath, linePath, stepArea, stepPath } from "./paths";
import { linear } from "./scale";

const x = linear([0, 10], [0, 100]);

describe("paths", () => {
	it("draw the pace line as steps down from the top", () => {
		expect(stepPath([{ day: 5, share: 0.5 }], x, 40, 10)).toBe("M0,0L50,0L50,20L100,20L100,20");
		expect(stepPath([], x, 40, 6)).toBe("M0,0L60,0L60,0");
	});
	it("fill a band from below for what was lost", () => {
		const area = stepArea([{ day: 5, share: 0.25 }], x, 100, 40, true);
		expect(area).toContain("M0,40L50,40L50,30L100,30");
		expect(area.endsWith("Z")).toBe(true);
	});
	it("go through points, and round what no screen shows", () => {
		expect(
			linePath([
				[0, 1.26],
				[10, 2],
			]),
		).toBe("M0,1.3L10,2");
		expect(
			bandPath([
				[0, 4, 1],
				[10, 5, 2],
			]),
		).toBe("M0,1L10,2L10,5L0,4Z");
		expect(linePath([])).toBe("");
	});
});
