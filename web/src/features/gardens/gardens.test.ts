import { describe, expect, it } from "vitest";
import { NO_COLUMNS, remember, remembered, sentOf, withGuesses } from "./gardens";

describe("columns of a form", () => {
	it("are sent as pairs, a treatment by its own name or its heading", () => {
		const wide = {
			...NO_COLUMNS,
			garden: "Who",
			arms: [
				{ name: "Soak", column: "Came up, soaked" },
				{ name: " ", column: "Dry" },
				{ name: "left", column: "" },
			],
		};
		expect(sentOf(wide)).toEqual(["garden=Who", "struck:Soak=Came up, soaked", "struck:Dry=Dry"]);
		const long = { ...wide, isWide: false, treatment: "Arm", struck: "Up" };
		expect(sentOf(long)).toEqual(["garden=Who", "treatment=Arm", "struck=Up"]);
	});

	it("are remembered for a form with the same headings, and guessed only where none was chosen", () => {
		const chosen = withGuesses({ ...NO_COLUMNS, garden: "Who" }, { garden: "Id", count: "Seeds" });
		expect([chosen.garden, chosen.count]).toEqual(["Who", "Seeds"]);
		remember(["Who", "Seeds"], chosen);
		expect(remembered(["Who", "Seeds"])).toEqual(chosen);
		expect(remembered(["Who"])).toBeUndefined();
	});
});
