import { fireEvent, screen, within } from "@testing-library/react";
import { useState } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Cell, Consequences, Plan } from "@/api/client";
import { button, clearAway, serverThat, show, startFresh } from "@/testing";
import { BenchCard } from "./BenchCard";
import { GatherCard } from "./GatherCard";
import { NumbersCard } from "./NumbersCard";
import type { Draft } from "./plan";
import { type CardProps, QuestionCard } from "./QuestionCard";
import { A_PLAN } from "./testing";

const NOTHING = { faults: [], hints: [], gather: [], bench: [], shortfall: "", look_days: [] };

/** A card of the form whose plan changes as on its page; gives the plan as it stands. */
function ofPlan(card: (props: CardProps) => React.ReactNode, plan = A_PLAN, found = {}) {
	const stands = { plan };
	function Page() {
		const [now, setNow] = useState(plan);
		stands.plan = now;
		return card({
			plan: now,
			set: (some) => setNow({ ...now, ...some }),
			replace: setNow,
			fault: (field) => (field === "units" ? "Units must be 2 or more." : undefined),
			found: { ...NOTHING, ...found } as unknown as Consequences,
		});
	}
	show(<Page />);
	return stands;
}

const choose = (label: string, value: string) =>
	fireEvent.change(screen.getByLabelText(label), { target: { value } });

beforeEach(startFresh);
afterEach(clearAway);

describe("the question", () => {
	const asked = (plan = A_PLAN, found = {}) => ofPlan((p) => <QuestionCard {...p} />, plan, found);

	it("takes days of looking as every so many or as the very days", () => {
		const stands = asked(A_PLAN, { look_days: [3, 6, 9] });
		screen.getByText("3 looks, the last on day 9");
		choose("Look on days", "7, 14, 21");
		expect(stands.plan.look_days).toEqual([7, 14, 21]);
		choose("Look on days", "every 5 days");
		expect(stands.plan).toMatchObject({ look_every_days: 5, look_days: [] });
		choose("Look on days", "sometimes");
		expect(stands.plan.look_every_days).toBe(5);
		expect(screen.getByLabelText("Look on days").getAttribute("aria-invalid")).toBe("true");
	});

	it("asks for the difference in the unit of what is judged", () => {
		asked();
		screen.getByLabelText("Smallest difference that matters, points");
		choose("Judged on", "speed");
		screen.getByLabelText("Smallest difference that matters, days");
		expect(screen.queryByLabelText(/I expect no difference/)).toBeNull();
		choose("Judged on", "strike");
		fireEvent.click(screen.getByLabelText(/I expect no difference/));
		screen.getByLabelText("Largest difference that does not matter, points");
	});

	it("asks no root score of a shoot", () => {
		asked({ ...A_PLAN, outcome: "shoot" });
		const offered = within(screen.getByLabelText("Judged on")).getAllByRole("option");
		expect(offered.map((o) => o.textContent)).toEqual([
			"how many get there",
			"how soon they get there",
			"a measure: height, leaves, stage …",
		]);
		expect(screen.queryByLabelText("Root score that counts")).toBeNull();
	});

	it("never offers the headline beside itself", () => {
		const stands = asked();
		const beside = () =>
			within(screen.getByRole("group", { name: /^Secondary results/ }))
				.getAllByRole("checkbox")
				.map((c) => (c as HTMLInputElement).labels?.[0]?.textContent);
		expect(beside()).toEqual(["how soon they root (come up)", "root score, 0 to 5"]);
		fireEvent.click(screen.getByLabelText("root score, 0 to 5"));
		expect(stands.plan.secondary).toEqual(["quality"]);
	});
});

describe("numbers", () => {
	const numbers = (plan = A_PLAN, found = {}) => ofPlan((p) => <NumbersCard {...p} />, plan, found);

	it("are of what was randomised, and containers hold several", () => {
		const stands = numbers();
		screen.getByLabelText("Plants per treatment");
		expect(screen.getByText("Units must be 2 or more.")).toBeTruthy();
		choose("What was randomised? (the unit)", "container");
		expect(stands.plan).toMatchObject({ level: "container", per_container: 5 });
		screen.getByLabelText("Containers per treatment");
		choose("Plants sharing a container are", "0.4");
		expect(stands.plan.icc).toBe(0.4);
	});

	it("of pairs are pairs, and share what pairs share", () => {
		const stands = numbers();
		choose("Randomise", "pairs");
		screen.getByLabelText("Pairs");
		choose("Pairs share the same", "size");
		expect(stands.plan).toMatchObject({ layout: "pairs", block_basis: "size" });
		expect(screen.queryByLabelText("Blocks (1 = none)")).toBeNull();
	});

	it("that differ want a reason, and a likeness of one's own stays", () => {
		numbers({
			...A_PLAN,
			per_container: 6,
			icc: 0.17,
			treatments: A_PLAN.treatments.map((t, i) => ({ ...t, units: i ? 30 : null })),
		} as Plan);
		screen.getByLabelText("Reason for unequal numbers");
		expect(screen.getByLabelText<HTMLSelectElement>("Plants sharing a container are").value).toBe(
			"0.17",
		);
	});
});

describe("what is needed", () => {
	it("is held against what is there", () => {
		const gather = [
			{ key: "cuttings", thing: "cuttings", amount: "53", unit: "", at_hand: null, short: 0 },
			{ key: "perlite", thing: "perlite", amount: "6 L", unit: "L", at_hand: 4, short: 2 },
		];
		const stands = ofPlan((p) => <GatherCard {...p} />, A_PLAN, {
			gather,
			shortfall: "2 L short.",
		});
		expect(screen.getByRole("status").textContent).toBe("2 L short.");
		expect(screen.getByRole("row", { name: /^perlite short/ })).toBeTruthy();
		choose("cuttings: you have", "60");
		expect(stands.plan.at_hand).toEqual([{ key: "cuttings", amount: 60 }]);
		choose("cuttings: you have", "");
		expect(stands.plan.at_hand).toEqual([]);
	});
});

describe("the bench", () => {
	const cell = (col: number) => ({
		tray: 0,
		row: 0,
		col,
		treatment: col,
		order: col,
		code: "7JDW",
	});
	const bench = (draft: Partial<Draft>, plan = A_PLAN, found = {}) => {
		const change = vi.fn();
		ofPlan(
			(p) => (
				<BenchCard
					{...p}
					draft={{ plan, seed: "4711aabbccdd", locks: [], ...draft } as unknown as Draft}
					change={change}
				/>
			),
			plan,
			{ bench: [cell(0), cell(1)] as unknown as Cell[], ...found },
		);
		return change;
	};

	it("is randomised again from another seed", () => {
		const change = bench({});
		screen.getByText(/randomised, seed 4711aabb/);
		fireEvent.click(button("Randomise again"));
		expect(change).toHaveBeenCalledOnce();
		expect(change.mock.calls[0]?.[0]).not.toMatchObject({ seed: "4711aabbccdd" });
	});

	it("laid by hand has no seed", () => {
		bench({}, { ...A_PLAN, layout: "by hand" } as Plan);
		screen.getByText("laid by hand");
		expect(screen.queryByRole("button", { name: "Randomise again" })).toBeNull();
	});

	it("frees what was locked, and says where a lock cannot hold", () => {
		const locks = [{ tray: 0, row: 0, col: 0, treatment: 0 }] as Draft["locks"];
		const faults = [{ pointer: "/locks/0", says: "A1 cannot hold Untreated." }];
		const change = bench({ locks }, A_PLAN, { faults });
		expect(screen.getByRole("alert").textContent).toBe("A1 cannot hold Untreated.");
		fireEvent.click(button("Unlock"));
		expect(change.mock.calls[0]?.[0]).toMatchObject({ locks: [] });
	});

	it("takes names of trays and what stands at its sides", () => {
		serverThat({});
		const stands = ofPlan((p) => (
			<BenchCard
				{...p}
				draft={{ plan: A_PLAN, seed: "1", locks: [] } as unknown as Draft}
				change={vi.fn()}
			/>
		));
		choose("Tray names", "window, door");
		choose("At the right", "vent");
		expect(stands.plan.tray_names).toEqual(["window", "door"]);
		expect(stands.plan.sides).toEqual(["", "vent", "", ""]);
	});
});
