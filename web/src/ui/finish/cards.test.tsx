import { screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Finish } from "@/api/client";
import { clearAway, show, startFresh } from "@/testing";
import { AnswerCard } from "./AnswerCard";
import { LadderCard } from "./LadderCard";
import { PlacingsCard } from "./PlacingsCard";
import { TimesCard } from "./TimesCard";
import { TrayMap } from "./TrayMap";

const NAMES = ["Sown dry", "Soaked 12 h", "Soaked 24 h"];
const finish = (done: string) =>
	({
		unit: "points",
		reference: 0,
		lanes: NAMES.map((name, treatment) => ({
			treatment,
			name,
			done,
			silk: "plain",
			n: 20,
			times: {
				reached: [{ after: 3, by: 6 }, treatment ? { after: 6, by: 9 } : null, null],
				linear: [4.5, 7.5, null],
				waiting: 9.25 + treatment,
				struck_mean: treatment ? 7.5 : null,
				struck_n: 12,
				left_out: 8,
			},
		})),
		comparisons: [
			{ treatment: 1, wait: { estimate: -2.04, low: -4, high: -0.1, reason: "" } },
			{ treatment: 2, wait: null },
		],
		placings: {
			says: "First place could be any of these 2.",
			pairs: 3,
			places: [
				{ treatment: 1, place: 1, dead_heat: true, rate: 0.6, letters: "a" },
				{ treatment: 2, place: 1, dead_heat: true, rate: 0.6, letters: "ab" },
				{ treatment: 0, place: 3, dead_heat: false, rate: 0.4, letters: "b" },
			],
		},
		ladder: {
			unit: "h",
			grade_words: "no clear trend",
			p: 0.2,
			says: ["", "No shape stands out."],
			steps: [0, 12, 24].map((dose, treatment) => ({
				dose,
				treatment,
				rate: 0.5,
				lost: 0.1,
				low: 0.3,
				high: 0.7,
			})),
		},
		cells: [
			{
				tray: 0,
				row: 0,
				col: 0,
				treatment: 0,
				unit: 0,
				struck: 1,
				lost: 0,
				removed: 0,
				n: 1,
				code: "A1",
			},
		],
	}) as unknown as Finish;

beforeEach(startFresh);
afterEach(clearAway);

describe.each([
	["times", (f: Finish) => <TimesCard finish={f} />],
	["placings", (f: Finish) => <PlacingsCard finish={f} />],
	["dose series", (f: Finish) => <LadderCard finish={f} />],
	["tray map", (f: Finish) => <TrayMap finish={f} />],
])("the %s of a trial", (_, card) => {
	it.each(["came up", "bloomed"])("speak of what its plants did: %s", (done) => {
		const { container } = show(card(finish(done)));
		const shown = container.cloneNode(true) as HTMLElement;
		for (const style of shown.querySelectorAll("style")) style.remove();
		expect(shown.textContent).toContain(done);
		const said = shown.innerHTML.replaceAll(/class="[^"]*"/g, ""); // what is only told, too
		expect(said).not.toMatch(/root|struck/i);
	});
});

describe("times and places", () => {
	it("say what was not reached, whom the mean leaves out, and when a wait cannot be told", () => {
		show(<TimesCard finish={finish("came up")} />);
		expect(screen.getAllByText("not reached")).toHaveLength(4);
		screen.getByText("9.3 days");
		screen.getByText("2.0 days less");
		screen.getByText("cannot be told");
		expect(screen.getAllByText("day 7.5 (12; 8 left out)")).toHaveLength(2);
	});

	it("call equal places equal, and give each its groups in words", () => {
		show(<PlacingsCard finish={finish("came up")} />);
		expect(screen.getAllByText(/dead heat \(equal\)/)).toHaveLength(2);
		screen.getByText("group a and b");
	});

	it("are not told of two treatments alone", () => {
		const two = finish("came up");
		two.placings?.places.pop();
		const { container } = show(<PlacingsCard finish={two} />);
		expect(container.textContent).not.toContain("Placings");
	});
});

describe("the answer", () => {
	it("names its doubt and the next step only where there are any", () => {
		const answer = {
			kind: "open",
			chip: "cannot tell",
			happened: "Too few.",
			sure: "",
			doubt: "",
			next: "",
		};
		const { unmount } = show(<AnswerCard answer={answer as NonNullable<Finish["answer"]>} />);
		expect(screen.queryByText("Biggest doubt:")).toBeNull();
		unmount();
		const whole = { ...answer, doubt: "6 were not looked at", next: "Look at them" };
		show(<AnswerCard answer={whole as NonNullable<Finish["answer"]>} />);
		screen.getByText("Biggest doubt:");
		expect(screen.getByRole("region", { name: "The answer" }).textContent).toContain(
			"Next: Look at them.",
		);
	});
});
