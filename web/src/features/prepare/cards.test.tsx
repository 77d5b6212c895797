import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Prepare, Trial } from "@/api/client";
import { button, clearAway, last, serverThat, show, startFresh } from "@/testing";
import { ClockCard } from "./ClockCard";
import { LabelsCard } from "./LabelsCard";
import { OrderCard } from "./OrderCard";
import { RecipesCard } from "./RecipesCard";
import { SourcesCard } from "./SourcesCard";
import { StickCard } from "./StickCard";
import type { PrepareLog } from "./usePrepare";

const TRIAL = {
	id: "t",
	plan: { blind: true, treatments: [{ name: "IBA", silk: "hoops" }] },
} as unknown as Trial;

beforeEach(startFresh);
afterEach(clearAway);

describe("labels", () => {
	const LABELS = {
		labels: ["7JDW", "2KPA"],
		sheets: [
			{ key: "a4_65", name: "65 on A4", places: 65 },
			{ key: "a4_8", name: "8 on A4", places: 8 },
		],
	};
	const path = "/api/trials/t/labels";
	const sheets = () => screen.getByRole("link", { name: "Print sheets (PDF)" });

	it("begin where the sheet is still whole, and never past its end", async () => {
		serverThat({ [`GET ${path}`]: LABELS });
		show(<LabelsCard trial={TRIAL} />);
		await screen.findByText("2 labels, blind codes");
		fireEvent.change(screen.getByLabelText("Labels already used"), { target: { value: "12" } });
		expect(sheets().getAttribute("href")).toContain("sheet=a4_65&trays=false&skip=12");
		fireEvent.change(screen.getByLabelText("Sheet"), { target: { value: "a4_8" } });
		expect(sheets().getAttribute("href")).toContain("sheet=a4_8&trays=false&skip=7");
		fireEvent.click(screen.getByRole("radio", { name: "trays" }));
		expect(sheets().getAttribute("href")).toContain("trays=true");
	});

	it("wait for a new roll where the printer has none", async () => {
		const asked = serverThat({
			[`GET ${path}`]: LABELS,
			[`POST ${path}/print`]: 409,
			"POST /api/printer/roll": {},
		});
		show(<LabelsCard trial={TRIAL} />);
		fireEvent.click(button("Send to label printer (simulated)"));
		await screen.findByText("The server refused.");
		fireEvent.click(button("Load a new roll"));
		await waitFor(() => expect(screen.queryByText("The server refused.")).toBeNull());
		expect(last(asked, "POST")?.path).toBe("/api/printer/roll");
	});
});

describe("the order of work", () => {
	it("remembers on this device what was ticked", () => {
		const step = (key: string, says: string) => ({ key, says, why: "", treatment: null });
		const found = {
			order: [step("fill", "Fill the trays"), step("mix", "Mix the dips")],
			cautions: [{ code: "gloves", says: "Wear gloves." }],
		} as unknown as Prepare;
		const { unmount } = show(<OrderCard trial={TRIAL} found={found} />);
		screen.getByText("0 of 2 done");
		fireEvent.click(screen.getByRole("checkbox", { name: "Fill the trays" }));
		screen.getByText("1 of 2 done");
		screen.getByText("Wear gloves.");
		unmount();
		show(<OrderCard trial={TRIAL} found={found} />);
		expect(screen.getByRole("checkbox", { name: "Fill the trays" })).toHaveProperty(
			"checked",
			true,
		);
		fireEvent.click(screen.getByRole("checkbox", { name: "Fill the trays" }));
		screen.getByText("0 of 2 done");
	});
});

describe("the soak schedule", () => {
	const MINUTE = 60_000;
	const ago = (minutes: number) => new Date(Date.now() - minutes * MINUTE).toISOString();
	const step = (key: string, over: object) => ({
		key,
		name: "soak",
		treatment: 0,
		minutes: 30,
		start: ago(10),
		stop: ago(-20),
		started_at: null,
		stopped_at: null,
		says: "",
		...over,
	});
	const shown = (over: object, trial: object = { status: "started", today: 0 }) => {
		const mutate = vi.fn();
		const log = { save: { mutate }, mark: { mutate } } as unknown as PrepareLog;
		const clock = { steps: [step("s", over)], says: [], is_planned: true, at: ago(-20) };
		const plan = { ...TRIAL.plan, time_zone: "UTC", kind: "cutting" };
		show(
			<ClockCard
				trial={{ ...TRIAL, plan, ...trial } as Trial}
				found={{ clock, arms: [] } as unknown as Prepare}
				log={log}
			/>,
		);
		return mutate;
	};

	it("says what should have begun, and begins it", () => {
		const mutate = shown({});
		screen.getByText(/should have started 10 min ago/);
		fireEvent.click(button("Start soak of IBA"));
		expect(mutate).toHaveBeenCalledWith({ step: "s", what: "start" });
		expect(screen.queryByRole("button", { name: "Stop soak of IBA" })).toBeNull();
	});

	it("counts a soak that runs past its end, and stops or undoes it", () => {
		const mutate = shown({ started_at: ago(42) });
		screen.getByText(/is over since 12 min: take them out/);
		expect(screen.getByRole("timer").textContent).toBe("+12 min");
		fireEvent.click(button("Stop soak of IBA"));
		fireEvent.click(button("Undo soak of IBA"));
		expect(mutate.mock.calls).toEqual([
			[{ step: "s", what: "stop" }],
			[{ step: "s", what: "void" }],
		]);
	});

	it("marks nothing any more once the trial is under way", () => {
		shown({}, { status: "started", today: 5 });
		expect(screen.queryByRole("button", { name: "Start soak of IBA" })).toBeNull();
	});
});

describe("the recipes of a trial", () => {
	it("say where nothing is to be mixed", () => {
		show(
			<RecipesCard trial={TRIAL} found={{ recipes: [], suggested: [] } as unknown as Prepare} />,
		);
		screen.getByText(/Nothing to mix by the plan/);
	});

	it("come back when one was taken off the list", async () => {
		const recipe = {
			id: "r",
			key: "dilute",
			treatment: 0,
			arm: "IBA",
			title: "Dilute a stock",
			amounts: [{ what: "Stock to take", shown: "37.5 mL" }],
			says: [],
			answers: [],
			flags: [],
			override: "",
			who: "",
		};
		const asked = serverThat({
			"DELETE /api/trials/t/recipes/r": {},
			"POST /api/trials/t/recipes/r/back": {},
		});
		const suggested = [{ key: "dilute", treatment: 0, says: "Dilute for IBA", fields: {} }];
		show(
			<RecipesCard trial={TRIAL} found={{ recipes: [recipe], suggested } as unknown as Prepare} />,
		);
		screen.getByText("37.5 mL");
		expect(screen.queryByText("Needed for this plan")).toBeNull();
		fireEvent.click(button("Remove from the list: Dilute a stock"));
		await screen.findByText(/Dilute a stock is off the list/);
		fireEvent.click(button("Restore"));
		await waitFor(() => expect(screen.queryByText(/is off the list/)).toBeNull());
		expect(last(asked, "POST")?.path).toBe("/api/trials/t/recipes/r/back");
	});
});

describe("what a trial draws on", () => {
	const plan = {
		treatments: [
			{ name: "Untreated", agent: "nothing" },
			{ name: "IBA", agent: "hormone" },
		],
	};
	const found = {
		start_together: false,
		chosen_at: null,
		plant_id: "gone",
		plant_flags: [{ code: "old", says: "The plants were cut 5 days ago.", level: "warn" }],
		arms: [0, 1].map(() => ({ agent_id: "", flags: [], steps: [] })),
	} as unknown as Prepare;
	const register = { plants: [], agents: [{ id: "iba", name: "IBA in talc, 0.3 %" }] };
	const sources = (status: string) => {
		serverThat({ "GET /api/materials": register });
		const mutate = vi.fn();
		const log = { save: { mutate } } as unknown as PrepareLog;
		const trial = { ...TRIAL, status, plan } as unknown as Trial;
		show(<SourcesCard trial={trial} found={found} log={log} />);
		return mutate;
	};

	it("is chosen from the stock list, for treatments that need an agent alone", async () => {
		const mutate = sources("draft");
		await screen.findByRole("option", { name: "IBA in talc, 0.3 %" });
		screen.getByText("The plants were cut 5 days ago.");
		expect(screen.getByLabelText<HTMLSelectElement>("Plants").selectedOptions[0]?.textContent).toBe(
			"no longer in the stock list",
		);
		expect(screen.queryByLabelText("Agent of Untreated")).toBeNull();
		fireEvent.change(screen.getByLabelText("Agent of IBA"), { target: { value: "iba" } });
		expect(mutate.mock.calls[0]?.[0].arms.map((a: { agent_id: string }) => a.agent_id)).toEqual([
			"",
			"iba",
		]);
	});

	it("stays as it was once the trial has begun", async () => {
		sources("started");
		await screen.findByText("What it drew on");
		screen.getByText("no longer in the stock list");
		expect(screen.queryByRole("combobox")).toBeNull();
	});
});

describe("what was really set", () => {
	const unit = (id: string, over: object) => ({
		id,
		code: id,
		place: id,
		is_set: true,
		late: 0,
		lot: "",
		size: "",
		why: "",
		...over,
	});
	const set = (status: string, over: object = {}) => {
		const log = { note: { mutate: vi.fn() }, many: { mutate: vi.fn() } };
		const plan = { kind: "cutting", length_days: 42, treatments: [{ name: "IBA", silk: "hoops" }] };
		const found = {
			start_together: true,
			day0: "sticking",
			clock: { asks_day0: true },
			plant_flags: [],
			arms: [],
			set_by_arm: [{ planned: 2, set: 1, whys: ["1 ran out"], late: 1, other: 0 }],
			units: [unit("A1", { is_set: false, why: "ran out" }), unit("A2", { late: 2 })],
			...over,
		} as unknown as Prepare;
		const trial = { ...TRIAL, status, plan, bench: [{ tray: 0 }], sealed: false };
		show(
			<StickCard
				trial={trial as unknown as Trial}
				found={found}
				log={log as unknown as PrepareLog}
			/>,
		);
		return log;
	};
	const field = (label: string, value: string) =>
		fireEvent.change(within(screen.getByRole("form")).getByLabelText(label), { target: { value } });

	it("stands beside what was planned, and each difference can be taken back", () => {
		const log = set("started");
		screen.getByText("1 ran out; 1 started later");
		const differences = screen.getByRole("list", { name: "Differences from the plan" });
		expect(differences.textContent).toContain("A1 not used, ran out");
		expect(differences.textContent).toContain("A2 its day 0 is day 2");
		fireEvent.click(button("Undo: A1"));
		expect(log.note.mutate.mock.calls[0]?.[0]).toMatchObject([{ unit_id: "A1", is_set: true }]);
	});

	it("wants a reason, or when, or which, before a difference is saved", () => {
		const log = set("started");
		const save = () => within(screen.getByRole("form")).getByRole("button", { name: "Save" });
		screen.getByText("Choose the unit first.");
		field("Unit", "A2");
		screen.getByText("Say why.");
		field("was", "another batch");
		screen.getByText("Say which.");
		field("Batch", "B 7");
		screen.getByText("Say why.");
		field("Why", "ran out");
		fireEvent.click(save());
		expect(log.note.mutate.mock.calls[0]?.[0]).toMatchObject([
			{ unit_id: "A2", is_set: true, lot: "B 7", why: "ran out", set_at: null },
		]);
	});

	it("of a whole tray is one answer", () => {
		const log = set("started", { units: [unit("A1", {})] });
		screen.getByText(/Save each as it starts/);
		fireEvent.change(screen.getByLabelText("Which"), { target: { value: "t0" } });
		fireEvent.click(button("Started now"));
		expect(log.many.mutate.mock.calls[0]?.[0]).toMatchObject({ treatment: null, tray: 0 });
	});

	it("tells nothing of treatments that are hidden", () => {
		set("started", { set_by_arm: [] });
		screen.getByRole("rowheader", { name: "All treatments (hidden)" });
		expect(screen.queryByText("1 ran out; 1 started later")).toBeNull();
	});

	it("of a draft is nothing yet: day 0 is set first", () => {
		set("draft", { plant_flags: [{ code: "old", says: "Cut 5 days ago.", level: "warn" }] });
		screen.getByText(/set day 0. The plan is then locked/);
		screen.getByText("Cut 5 days ago.");
	});
});
