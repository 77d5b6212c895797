import { describe, expect, it } from "vitest";
import { parted } from "./unread";

describe("a line that was not understood", () => {
	it("is cut at what was not, by characters", () => {
		const cut = parted("🌱 5 mL for 9 hamsters", [[13, 21]]);
		expect(cut.map((p) => [p.text, p.isUnread])).toEqual([
			["🌱 5 mL for 9 ", false],
			["hamsters", true],
		]);
	});
	it("is one piece where all was", () => {
		expect(parted("5 mL", [])).toHaveLength(1);
	});
});
