import { fireEvent, screen, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Finish } from "@/api/client";
import { clearAway, serverThat, show, startFresh } from "@/testing";
import { CrossCard } from "./CrossCard";
import { GrowthCard } from "./GrowthCard";
import { IndicesCard } from "./IndicesCard";
import { RunsCard } from "./RunsCard";

const METHODS = ["interaction", "lot", "newcombe", "measure", "runs"].map((id) => ({
	id,
	name: `Method ${id}`,
	says: "",
	sum: "",
	source: "",
}));
const gap = (estimate: number, low: number | null, high: number | null, reason = "") => ({
	estimate,
	low,
	high,
	method: "newcombe",
	reason,
});
const NAMES = ["Untreated", "IBA"];
const LANES = NAMES.map((name, treatment) => ({ treatment, name, silk: "plain", rate: 0.5 }));
const finish = (over: object) =>
	({ unit: "points", lanes: LANES, comparisons: [], ...over }) as unknown as Finish;
const cells = (row: RegExp) =>
	within(screen.getByRole("row", { name: row }))
		.getAllByRole("cell")
		.map((c) => c.textContent);
/** What a figure opens to. */
const opened = async (name: RegExp) => {
	fireEvent.click(await screen.findByRole("button", { name }));
	return (await screen.findByRole("dialog")).textContent;
};

beforeEach(() => {
	startFresh();
	serverThat({ "GET /api/reference": { methods: METHODS, silks: [], judged: [], glossary: [] } });
});
afterEach(clearAway);

describe("crossed factors", () => {
	const effect = {
		factor: "dip",
		level: "IBA",
		base: "none",
		within: "",
		grade_words: "too close",
	};
	const cross = (leads: boolean) => ({
		factors: ["dip", "wound"].map((name) => ({ name, levels: ["none", "yes"], of: [0, 1] })),
		main: [{ ...effect, gap: gap(0.12, 0.01, 0.22), p: 0.04, p_holm: 0.08 }],
		simple: [
			{ ...effect, within: "wounded", gap: gap(0.3, null, null, "one pot"), p: 1, p_holm: 1 },
		],
		interactions: [
			{ factors: ["dip", "wound"], gap: gap(0.2, 0.05, 0.4), p: 0.01, logistic_p: null, leads },
		],
	});

	it("are averaged where they do not work together", async () => {
		show(<CrossCard finish={finish({ cross: cross(false) })} />);
		screen.getByText("averaged over the other factor");
		expect(cells(/^together: dip × wound/)[1]).toBe("may interact");
		expect(await opened(/^\+12 points dip/)).toContain("after Holm's correction");
	});

	it("are read at each level where they do", async () => {
		show(<CrossCard finish={finish({ cross: cross(true) })} />);
		screen.getByText("they interact: read each level");
		expect(screen.queryByText(/\+12/)).toBeNull();
		screen.getByText("at wounded");
		expect(await opened(/dip: \+30/)).toContain("No range: one pot.");
	});

	it("are not told of a trial of one factor", () => {
		show(<CrossCard finish={finish({ cross: null })} />);
		expect(screen.queryByText("Each factor")).toBeNull();
	});
});

describe("later growth", () => {
	const arm = { least: 40, most: 80, n: 12, p: 0.031, grade_words: "likely lead" };
	const growth = [
		{
			measure: "leaves",
			label: "Leaves",
			unit: "leaves",
			age: 90,
			is_primary: false,
			arms: [
				{ ...arm, treatment: 0, mean: 55, gap: null },
				{ ...arm, treatment: 1, mean: 62, gap: gap(7, 1, 13) },
			],
		},
	];

	it("is told at one age, as a second result, beside the control", async () => {
		show(<GrowthCard finish={finish({ growth })} />);
		screen.getByText("Leaves on day 90");
		screen.getByText("same age; measured plants only; secondary");
		expect(cells(/Untreated/)).toEqual(["55", "40 to 80", "12", ""]);
		expect(await opened(/^7, likely lead/)).toContain("1 to 13 leaves; p 0.031");
	});
});

describe("seed-testing indices", () => {
	const index = (value: number | null, reason = "") => ({
		id: "gi",
		name: "Germination index",
		unit: "",
		says: "",
		source: "",
		value,
		reason,
	});

	it("say why one cannot be told", () => {
		const lanes = [
			{ ...LANES[0], indices: [index(1234.5)] },
			{ ...LANES[1], indices: [index(null, "no seed came up")] },
		];
		const { container } = show(<IndicesCard finish={finish({ lanes })} />);
		const said = [...container.querySelectorAll("td")].map((c) => c.textContent);
		expect(said).toEqual(["1,235", "no seed came up"]);
	});

	it("are left out where none was asked for", () => {
		const lanes = LANES.map((l) => ({ ...l, indices: [] }));
		show(<IndicesCard finish={finish({ lanes })} />);
		expect(screen.queryByText("Seed-testing indices")).toBeNull();
	});
});

describe("runs of one plan", () => {
	const run = (name: string, of: object | null) => ({
		run: name,
		treated: 20,
		control: 20,
		gap: of,
	});
	const runs = (q_p: number | null) => [
		{
			treatment: 1,
			runs: [run("spring", gap(0.25, 0.1, 0.4)), run("autumn", null)],
			q_p,
			further: [0.2, 0.05, 0.35],
			next_run: null,
		},
	];
	const together = [{ treatment: 1, gap: gap(0.2, 0.1, 0.3) }];

	it("stand beside each other, and the gap over all below them", async () => {
		show(<RunsCard finish={finish({ runs: runs(0.4), comparisons: together })} />);
		screen.getByText("Run by run: IBA");
		screen.getByText("no comparison");
		screen.getByText("+20 points");
		expect(await opened(/^No sign that the runs differ/)).toContain(
			"this far apart 40 times in 100. Over further runs like these: +5 points to +35 points.",
		);
	});

	it("that differ say so, and without a gap over all there is none", () => {
		show(<RunsCard finish={finish({ runs: runs(0.04) })} />);
		screen.getByText("The runs differ more than chance explains.");
		screen.getByText("no gap");
	});
});
