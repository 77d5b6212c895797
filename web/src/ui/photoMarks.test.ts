import { describe, expect, it } from "vitest";
import type { Point } from "@/core/traces";
import { drawing, saidOf } from "./PhotoMarks";

const start = {
	marks: { scale: [], known_mm: 10, lines: [] },
	open: [],
	cross: [0.5, 0.4] as Point,
};
const marked = (...points: Point[]) =>
	points.reduce(
		(was, at) => drawing(was, { do: "mark", at }),
		start as Parameters<typeof drawing>[0],
	);

describe("marks on a photo", () => {
	it("takes two taps as the scale and the next ones as a line, which ends when told", () => {
		const tapped = marked([0.1, 0.1], [0.2, 0.1], [0.3, 0.3], [0.3, 0.5]);
		expect(tapped.marks.scale).toHaveLength(2);
		expect(tapped.open).toHaveLength(2);
		const ended = drawing(tapped, { do: "end" });
		expect(ended.marks.lines).toEqual([
			[
				[0.3, 0.3],
				[0.3, 0.5],
			],
		]);
		expect(ended.open).toEqual([]);
	});

	it("draws no line before there is a scale, and none of a single point", () => {
		expect(drawing(start, { do: "draw", at: [0.5, 0.5] })).toBe(start);
		const single = marked([0.1, 0.1], [0.2, 0.1], [0.3, 0.3]);
		expect(drawing(single, { do: "end" }).marks.lines).toEqual([]);
	});

	it("undoes point by point, then line by line, then the scale", () => {
		let at = drawing(marked([0.1, 0.1], [0.2, 0.1], [0.3, 0.3], [0.3, 0.5]), { do: "end" });
		at = drawing(drawing(at, { do: "mark", at: [0.6, 0.6] }), { do: "undo" });
		expect([at.open.length, at.marks.lines.length]).toEqual([0, 1]);
		at = drawing(at, { do: "undo" });
		expect([at.marks.lines.length, at.marks.scale.length]).toEqual([0, 2]);
		expect(drawing(at, { do: "undo" }).marks.scale).toHaveLength(1);
	});

	it("keeps the cross of the keyboard inside the photo", () => {
		const far = drawing(start, { do: "cross", by: [3, 3], most: 0.75 });
		expect(far.cross).toEqual([1, 0.75]);
	});

	it("says lengths and how many count as roots", () => {
		expect(saidOf([42.2, 3.9])).toBe("2 lines: 42, 4 mm; 1 root of 5 mm or more");
	});
});
