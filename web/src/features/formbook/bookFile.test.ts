import { expect, it } from "vitest";
import { cameIn } from "./BookFile";

it("says what a book's file brought, what was here, and what it lacks", () => {
	const none = { trials: 0, tables: 0, already: 0, left_out: [] };
	expect(cameIn({ ...none, trials: 2, tables: 1 })).toBe(
		"2 trials and 1 imported table were added.",
	);
	expect(cameIn({ ...none, already: 1 })).toBe("Nothing new. 1 was here already.");
	expect(cameIn({ ...none, trials: 1, already: 3, left_out: ["Mint?"] })).toBe(
		"1 trial and 0 imported tables were added. 3 were here already. Not in the file, since treatments are hidden: Mint?.",
	);
});
