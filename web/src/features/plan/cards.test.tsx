import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Consequences, Plan, Trial } from "@/api/client";
import { button, clearAway, serverThat, show, startFresh } from "@/testing";
import { AmendCard } from "./AmendCard";
import { ClashCard } from "./ClashCard";
import { DifferencesCard } from "./DifferencesCard";
import { PowerCard } from "./PowerCard";
import type { Draft } from "./plan";
import { A_PLAN } from "./testing";
import { Clashing, useConsequences } from "./usePlan";

const TRIAL = {
	id: "t",
	plan: A_PLAN,
	started_on: "2026-05-01",
	amendments: [],
} as unknown as Trial;

beforeEach(startFresh);
afterEach(clearAway);

describe("a plan that two people changed", () => {
	const mine = { plan: A_PLAN, seed: 7 } as unknown as Draft;
	const clashes = [
		{ field: "length_days", mine: 42, theirs: 56 },
		{ field: "look_days", mine: [], theirs: [7, 14] },
	] as const;

	it("keeps mine unless theirs is chosen, field by field", () => {
		const onChosen = vi.fn();
		show(<ClashCard clashing={new Clashing(mine, [...clashes])} onChosen={onChosen} />);
		expect(screen.getByRole("radio", { name: "yours: none" })).toHaveProperty("checked", true);
		fireEvent.click(screen.getByRole("radio", { name: "saved meanwhile: 56" }));
		fireEvent.click(button("Save with these"));
		const chosen = onChosen.mock.calls[0]?.[0] as Draft;
		expect(chosen.plan).toMatchObject({
			length_days: 56,
			look_days: [],
			question: A_PLAN.question,
		});
		expect(chosen.seed).toBe(7);
	});
});

describe("an amendment", () => {
	const amended = async (what: string, value: string) => {
		const asked = serverThat({ "POST /api/trials/t/amend": { ...TRIAL, amendments: [] } });
		show(<AmendCard trial={TRIAL} />);
		screen.getByText("None: the plan is unchanged");
		fireEvent.change(screen.getByLabelText("What changes"), { target: { value: what } });
		const field = screen.getByLabelText(what === "note" ? "What was done" : "New value");
		fireEvent.change(field, { target: { value } });
		fireEvent.change(screen.getByLabelText("Why"), { target: { value: "frost" } });
		fireEvent.click(screen.getByText("Save change"));
		const sent = () => asked.find((a) => a.path === "/api/trials/t/amend")?.body;
		await waitFor(() => expect(sent()).toBeDefined());
		return sent();
	};

	it("of a number is sent as one", async () => {
		expect(await amended("length_days", "49")).toEqual({
			change: { length_days: 49 },
			note: "",
			reason: "frost",
		});
	});

	it("of look days is sent as the days that are meant", async () => {
		expect(await amended("looks", "7, 14, 21")).toMatchObject({
			change: { look_days: [7, 14, 21] },
		});
	});

	it("of something done differently changes no field", async () => {
		expect(await amended("note", "moved indoors")).toEqual({
			change: {},
			note: "moved indoors",
			reason: "frost",
		});
	});

	it("that was left empty is sent without a change, for the server to refuse", async () => {
		expect(await amended("gap_points", "")).toMatchObject({ change: {}, reason: "frost" });
	});
});

describe("what differs", () => {
	it("is written for one treatment, and pairs say in how many things they differ", () => {
		const onChange = vi.fn();
		const found = {
			properties: ["medium"],
			pairs: [{ one: 0, other: 1, differ: ["active", "medium"] }],
		} as unknown as Consequences;
		show(<DifferencesCard plan={A_PLAN} found={found} onChange={onChange} />);
		screen.getByText("2 things");
		fireEvent.change(screen.getByLabelText("medium of IBA"), { target: { value: "perlite" } });
		const changed = onChange.mock.calls[0]?.[0] as Plan;
		expect(changed.treatments[1]?.properties).toEqual([{ name: "medium", value: "perlite" }]);
		expect(changed.treatments[0]).toEqual(A_PLAN.treatments[0]);
		fireEvent.change(screen.getByLabelText("Add a difference"), { target: { value: "light" } });
		screen.getByLabelText("light of Untreated");
	});

	it("calls no pair alike before the plan was looked over", () => {
		show(<DifferencesCard plan={A_PLAN} found={undefined} onChange={vi.fn()} />);
		expect(screen.queryByText("alike")).toBeNull();
	});
});

describe("what a plan can show", () => {
	it("is not told before the plan is complete", () => {
		show(<PowerCard plan={A_PLAN} found={undefined} set={vi.fn()} fault={() => undefined} />);
		screen.getByText(/Add a control and complete the plan/);
	});

	it("is not asked for while a number is missing", () => {
		const asked = serverThat({ "POST /api/plans/check": 422 });
		const plan = { ...A_PLAN, units: null } as unknown as Plan;
		function Page() {
			const { error, isFetching } = useConsequences({ plan, seed: "1", locks: [] } as never);
			return <p>{isFetching ? "asks" : (error?.message ?? "waits")}</p>;
		}
		show(<Page />);
		screen.getByText("waits");
		expect(asked).toEqual([]);
	});

	it("takes over the grower's own rate at a touch", async () => {
		serverThat({
			"GET /api/base-rates": [
				{ trial: "x", question: "Olive last year", struck: 17, n: 24, day: 60, percent: 70.8 },
			],
		});
		const set = vi.fn();
		show(<PowerCard plan={A_PLAN} found={undefined} set={set} fault={() => undefined} />);
		fireEvent.click(await screen.findByRole("button", { name: "use 71 %" }));
		expect(set).toHaveBeenCalledWith({ expected_percent: 71 });
	});
});
