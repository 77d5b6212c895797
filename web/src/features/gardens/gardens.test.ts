import { describe, expect, it } from "vitest";
import { joined, kindOf, NO_COLUMNS, remember, remembered, sentOf, withGuesses } from "./gardens";

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

describe("many files of one garden each", () => {
	const file = (name: string, text: string) => new File([text], name);

	it("stand below each other under one heading", async () => {
		const both = await joined([
			file("a.csv", "Garden,Dry\r\n1,3\r\n"),
			file("b.csv", "\uFEFFGarden,Dry\n2,4"),
		]);
		expect(typeof both).not.toBe("string");
		expect(await (both as File).text()).toBe("Garden,Dry\n1,3\n2,4\n");
	});

	it("are refused with the file that has other columns", async () => {
		const why = await joined([file("a.csv", "Garden,Dry\n1,3"), file("b.csv", "Plot,Dry\n2,4")]);
		expect(why).toContain("b.csv has other columns than a.csv");
		expect(await joined([file("a.csv", "x"), file("b.xlsx", "x")])).toContain("Only CSV");
	});

	it("are left alone where there is one", async () => {
		const one = file("a.xlsx", "x");
		expect(await joined([one])).toBe(one);
	});
});

it("tells seeds from cuttings by the headings of a form", () => {
	expect(kindOf(["Garden", "Sown on", "Dry"])).toBe("seed");
	expect(kindOf(["Garden", "Stuck on", "Rooted"])).toBe("cutting");
});
