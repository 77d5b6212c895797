import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Finish, Trial } from "@/api/client";
import { button, clearAway, last, serverThat, show, startFresh } from "@/testing";
import { ConclusionCard } from "./ConclusionCard";
import { ConditionsCard } from "./ConditionsCard";
import { GroupsCard } from "./GroupsCard";
import { PayoffCard } from "./PayoffCard";
import { ScorersCard } from "./ScorersCard";

const TREATMENTS = ["Untreated", "IBA", "NAA"].map((name) => ({ name, silk: "plain" }));
const TRIAL = { id: "t", plan: { treatments: TREATMENTS } } as unknown as Trial;

beforeEach(startFresh);
afterEach(clearAway);

describe("the grower's own conclusion", () => {
	const TOLD = {
		text: "IBA is proven best",
		honest: "IBA is clearly ahead.",
		too_much: [
			{ start: 7, found: "proven", why: "one trial proves nothing", instead: "shown here" },
		],
	};
	const path = "/api/trials/t/conclusion";
	const field = () => screen.getByLabelText<HTMLTextAreaElement>("Your conclusion");

	it("that claims too much is told so, and starts anew from the honest words", async () => {
		const asked = serverThat({
			[`GET ${path}`]: TOLD,
			[`PUT ${path}`]: { ...TOLD, text: TOLD.honest, too_much: [] },
		});
		show(<ConclusionCard trialId="t" />);
		await screen.findByText(/one trial proves nothing/);
		expect(button("Save").disabled).toBe(true);
		fireEvent.click(button("Start from the result text"));
		expect(field().value).toBe(TOLD.honest);
		expect(screen.queryByText(/one trial proves nothing/)).toBeNull();
		fireEvent.click(button("Save"));
		await waitFor(() => expect(button("Save").disabled).toBe(true));
		expect(last(asked, "PUT")?.body).toEqual({ text: TOLD.honest });
	});

	it("stays in its field where it could not be kept", async () => {
		serverThat({ [`GET ${path}`]: { ...TOLD, text: "" }, [`PUT ${path}`]: 422 });
		show(<ConclusionCard trialId="t" />);
		await waitFor(() => expect(field().value).toBe(""));
		fireEvent.change(field(), { target: { value: "Mine" } });
		fireEvent.click(button("Save"));
		await screen.findByText("The server refused.");
		expect(field().value).toBe("Mine");
	});
});

describe("groups of treatments", () => {
	const chosen = (name: string, where: string) =>
		fireEvent.click(
			screen
				.getByRole("radiogroup", { name: `Group of ${name}` })
				.querySelector(`input[value="${where}"]`) as HTMLElement,
		);

	it("are compared once both hold one, and are marked as asked for after the fact", async () => {
		const one = { one: [1], zero: [0], is_declared: false, says: ["IBA is ahead."], gap: null };
		const asked = serverThat({ "GET /api/trials/t/contrasts": [one] });
		show(<GroupsCard trial={TRIAL} />);
		await screen.findByText("after the fact");
		const ask = button("Compare these groups");
		expect(ask.disabled).toBe(true);
		chosen("IBA", "one");
		chosen("NAA", "one");
		screen.getByText("Put a treatment or more into each group.");
		chosen("Untreated", "zero");
		fireEvent.click(ask);
		await waitFor(() =>
			expect(asked.findLast((a) => a.path.includes("contrasts"))?.path).toBe(
				"/api/trials/t/contrasts?one=1&one=2&zero=0",
			),
		);
	});
});

describe("what a treatment is worth", () => {
	const FINISH = {
		lanes: [{ treatment: 1, name: "IBA", silk: "hoops", n: 24, done: "came up" }],
		comparisons: [{ treatment: 1, harm: false, possible_harm: true }],
	} as unknown as Finish;
	const GIVEN = { struck_plant: 2, hour: 0, currency: "crowns", cost: { 1: 0.1 }, minutes: {} };
	const payoff = {
		treatment: 1,
		word: "pays",
		gain: null,
		low: null,
		high: null,
		break_even: 0.05,
		per_success: null,
		lost: 3,
	};
	const path = "/api/trials/t/worth";

	it("is told beside its risk, and says what it cannot tell", async () => {
		serverThat({ [`GET ${path}`]: { given: GIVEN, payoffs: [payoff] } });
		show(<PayoffCard trialId="t" finish={FINISH} kind="seed" />);
		await screen.findByText("cannot tell");
		screen.getByText("5.0 points");
		screen.getByText("none came up");
		screen.getByText("3 of 24 lost, possible harm");
	});

	it("is calculated from prices by treatment, and kept", async () => {
		const asked = serverThat({
			[`GET ${path}`]: { given: GIVEN, payoffs: [] },
			[`PUT ${path}`]: { given: GIVEN, payoffs: [{ ...payoff, gain: -0.25, break_even: 0 }] },
		});
		show(<PayoffCard trialId="t" finish={FINISH} kind="seed" />);
		await waitFor(() =>
			expect(screen.getByLabelText<HTMLInputElement>("Currency").value).toBe("crowns"),
		);
		fireEvent.change(screen.getByLabelText("Minutes a seed, IBA"), { target: { value: "1.5" } });
		fireEvent.click(screen.getByText("Calculate and save"));
		await screen.findByText("any gain");
		screen.getByText("−0.25 crowns");
		expect(last(asked, "PUT")?.body).toEqual({ ...GIVEN, minutes: { 1: 1.5 } });
	});

	it("is not asked where nothing is compared", () => {
		const { container } = show(
			<PayoffCard trialId="t" finish={{ ...FINISH, comparisons: [] } as Finish} kind="seed" />,
		);
		expect(container.textContent).not.toContain("Worth the cost?");
	});
});

describe("who scored and under which conditions", () => {
	it("is told of scorers who were trained, and of no other trial", async () => {
		serverThat({
			"GET /api/trials/t/agreement": { says: "Two agreed.", trained: ["Ines: 9 of 10 right."] },
			"GET /api/trials/u/agreement": { says: "Nobody scored twice.", trained: [] },
		});
		show(
			<>
				<ScorersCard trialId="t" />
				<ScorersCard trialId="u" />
			</>,
		);
		await screen.findByText("Ines: 9 of 10 right.");
		expect(screen.getAllByText("Who scored the roots")).toHaveLength(1);
	});

	it("tells each place once, and leaves out what was never measured", async () => {
		const curve = { place: "mist bench", says: "18 to 24 °C", days: [0], low: [18], high: [24] };
		serverThat({
			"GET /api/trials/t/conditions": {
				curves: [
					{ ...curve, quantity: "temperature", label: "Temperature", unit: "°C", mean: [21] },
					{ ...curve, quantity: "light", label: "Light", unit: "", days: [] },
				],
			},
		});
		show(<ConditionsCard trial={{ ...TRIAL, plan: { length_days: 42 } } as unknown as Trial} />);
		await screen.findByText("Temperature");
		screen.getByText("mist bench");
		expect(screen.queryByText("Light")).toBeNull();
	});
});
