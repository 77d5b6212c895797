import { MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import {
	ApiProblem,
	type Observation,
	type PlanRead,
	type Reference,
	type RoundUnit,
	type StageScale,
	type Trial,
} from "@/api/client";
import type { OutboxState } from "@/api/outbox";
import { button, clearAway, last, serverThat, show, startFresh } from "@/testing";
import { ConflictCard } from "./ConflictCard";
import { CountPanel } from "./CountPanel";
import { ExtendCard } from "./ExtendCard";
import { FillRow } from "./FillRow";
import { LiftPanel } from "./LiftPanel";
import { asObservation, sent } from "./round";
import { SecondPanel } from "./SecondPanel";
import { SharedScorePanel } from "./SharedScorePanel";
import { StagePanel } from "./StagePanel";
import type { PanelKeys } from "./useRoundKeys";
import { WaitingLine } from "./WaitingLine";

const REFERENCE = {
	score_words: ["none", "a trace", "weak", "adequate", "good", "full"],
	score_needs: [{}, { roots: 1, quarters: 1 }, { roots: 2, quarters: 1, longest: 20 }],
	reached_mm: 50,
	parts: [
		{ name: "roots", label: "Roots", unit: "", most: 500, choices: [], is_whole: true },
		{ name: "quarters", label: "Quarters", unit: "", most: 4, choices: ["0", "1"], is_whole: true },
	],
} as unknown as Reference;
const KEY = { look_for: "", drawing: "", code: null, cause: null };
const LADDER = {
	kind: "cutting",
	outcome: "usual",
	stages: [
		{ ...KEY, code: 3, name: "Callus", key: "3" },
		{ ...KEY, code: 6, name: "Rooted", key: "6" },
	],
	exits: [{ ...KEY, cause: "rotted", name: "Rotted", key: "8" }],
	endpoints: [6],
	default_endpoint: 6,
} as unknown as StageScale;
const PLAN = { per_container: 10, endpoint: 6, also_counted: [] as number[] } as PlanRead;

function seen(fields: Partial<Observation> = {}): Observation {
	const item = sent({ kind: "look", stage: 3 }, "u", "look-001", "2026-05-25T07:40:00Z");
	return { ...asObservation(item, 6), ...fields };
}

function unit(fields: Partial<RoundUnit> = {}): RoundUnit {
	return {
		id: "u",
		cell: { code: "A1", label: null },
		current: null,
		previous: null,
		score: null,
		conflict: null,
		gone: false,
		held: 10,
		second: true,
		second_score: null,
		...fields,
	} as RoundUnit;
}

beforeEach(startFresh);
afterEach(clearAway);

describe("a look at one plant", () => {
	const panel = (onTap = vi.fn(async () => true), of: Partial<RoundUnit> = {}) => {
		const plan = { ...PLAN, kind: "cutting", outcome: "usual", per_container: 1 } as PlanRead;
		const props = { plan, ladder: LADDER, onTap, onHelped: vi.fn(), keys: { current: null } };
		return <StagePanel {...props} unit={unit(of)} />;
	};

	it("starts anew with the next plant, and a key that was touched gives up the focus", () => {
		const onTap = vi.fn(async () => true);
		const queries = new QueryClient();
		const at = (id: string) => (
			<MantineProvider>
				<QueryClientProvider client={queries}>{panel(onTap, { id })}</QueryClientProvider>
			</MantineProvider>
		);
		const { rerender } = render(at("u"));
		fireEvent.click(button(/^Shoot/));
		expect(button(/^Shoot/).getAttribute("aria-pressed")).toBe("true");
		rerender(at("v"));
		expect(button(/^Shoot/).getAttribute("aria-pressed")).toBe("false");
		button(/^Rooted/).focus();
		fireEvent.click(button(/^Rooted/), { detail: 1 });
		expect(document.activeElement).toBe(document.body);
		expect(onTap).toHaveBeenCalledWith({ kind: "look", stage: 6, shoot: false, wilted: false });
	});

	it("is not sent for a top that showed nothing, but asked about", () => {
		const onTap = vi.fn(async () => true);
		show(panel(onTap));
		fireEvent.click(screen.getByText(/Base not seen/));
		expect(onTap).not.toHaveBeenCalled();
		expect(screen.getByRole("alert").textContent).toContain("Press Shoot or Limp");
		fireEvent.click(screen.getByRole("button", { name: /Shoot/ }));
		fireEvent.click(screen.getByText(/Base not seen/));
		expect(onTap).toHaveBeenCalledWith({ kind: "look", shoot: true, wilted: false });
	});
});

describe("the lift", () => {
	const lift = (isKept = true) => {
		const onTap = vi.fn(async () => isKept);
		const keys: PanelKeys = { current: null };
		show(
			<LiftPanel
				draft="t"
				unit={unit()}
				plan={PLAN}
				reference={REFERENCE}
				onTap={onTap}
				keys={keys}
			/>,
		);
		return { onTap, keys };
	};

	it("takes the proposed score by Enter from within a field, with its parts", () => {
		const { onTap } = lift();
		fireEvent.change(screen.getByLabelText("Roots"), { target: { value: "6" } });
		fireEvent.click(button(/^1$/));
		expect(screen.getByRole("status").textContent).toContain("Its parts make a 2");
		fireEvent.submit(screen.getByLabelText("Roots").closest("form") as HTMLFormElement);
		expect(onTap).toHaveBeenCalledWith({
			kind: "score",
			score: 2,
			parts: { roots: 6, quarters: 1 },
		});
	});

	it("keeps the parts of a score that this device could not keep", async () => {
		const { onTap, keys } = lift(false);
		fireEvent.change(screen.getByLabelText("Roots"), { target: { value: "6" } });
		act(() => expect(keys.current?.("4")).toBe(true));
		await onTap.mock.results[0]?.value;
		expect(screen.getByLabelText<HTMLInputElement>("Roots").value).toBe("6");
	});

	it("takes the grower's digit over the proposal, and Enter takes nothing without one", () => {
		const { onTap, keys } = lift();
		expect(keys.current?.("Enter")).toBe(false);
		expect(onTap).not.toHaveBeenCalled();
		expect(keys.current?.("4")).toBe(true);
		expect(onTap).toHaveBeenCalledWith({ kind: "score", score: 4, parts: {} });
		expect(keys.current?.("6")).toBe(false);
	});
});

describe("the second scorer", () => {
	it("scores the drawn by digit, and no other plant by key or button", () => {
		const onScore = vi.fn();
		const keys: PanelKeys = { current: null };
		const of = (u: RoundUnit) => (
			<SecondPanel trialId="t" unit={u} reference={REFERENCE} onScore={onScore} keys={keys} />
		);
		const { unmount } = show(of(unit({ second: false })));
		expect(keys.current?.("3")).toBe(false);
		expect(button(/adequate/).hasAttribute("disabled")).toBe(true);
		unmount();
		show(of(unit()));
		expect(keys.current?.("3")).toBe(true);
		expect(onScore).toHaveBeenCalledExactlyOnceWith(3);
	});
});

describe("a jar", () => {
	it("is saved only when every standing plant has its score", () => {
		const onTap = vi.fn(async () => true);
		const keys: PanelKeys = { current: null };
		const jar = unit({ current: seen({ kind: "count", struck: 6, lost: 8 }) });
		show(<SharedScorePanel draft="t" unit={jar} reference={REFERENCE} onTap={onTap} keys={keys} />);
		fireEvent.click(button(/One more at 5/));
		expect(button(/^Save/).hasAttribute("disabled")).toBe(true);
		fireEvent.click(button(/One more at 2/));
		fireEvent.click(button(/One more at 2/));
		fireEvent.click(button(/^Save/));
		expect(onTap).toHaveBeenCalledWith({
			kind: "score",
			score: null,
			parts: { score_5: 1, score_2: 1 },
		});
	});
});

describe("a count", () => {
	const panel = (byNew: boolean, onTap: () => Promise<boolean>, keys: PanelKeys) => (
		<CountPanel
			draft="t"
			unit={unit({ previous: seen({ kind: "count", struck: 4, day: 3 }) })}
			plan={PLAN}
			ladder={LADDER}
			byNew={byNew}
			onTap={onTap}
			keys={keys}
		/>
	);

	it("typed as new is sent as all so far", () => {
		const onTap = vi.fn(async () => true);
		const keys: PanelKeys = { current: null };
		show(panel(true, onTap, keys));
		fireEvent.click(button(/^3$/));
		expect(button(/rooted so far, of 10/i).textContent).toContain("7 in all");
		fireEvent.click(button(/^Save$/));
		expect(onTap).toHaveBeenCalledWith(expect.objectContaining({ kind: "count", struck: 7 }));
	});

	it("that this device cannot keep is there again when its pot is", async () => {
		const onTap = vi.fn(async () => false);
		const keys: PanelKeys = { current: null };
		const { unmount } = show(panel(true, onTap, keys));
		fireEvent.click(button(/^3$/));
		fireEvent.click(button(/^Save$/));
		await onTap.mock.results[0]?.value;
		unmount();
		const again = show(panel(true, onTap, keys));
		expect(button(/rooted so far, of 10/i).textContent).toContain("7 in all");
		again.unmount();
		onTap.mockResolvedValue(true);
		show(panel(true, onTap, keys));
		fireEvent.click(button(/^Save$/));
		await waitFor(() =>
			expect(button(/rooted so far, of 10/i).textContent).not.toContain("7 in all"),
		);
	});

	it("below the last one is asked about before it is kept", () => {
		const onTap = vi.fn(async () => true);
		show(panel(false, onTap, { current: () => false }));
		fireEvent.click(button(/^2$/));
		fireEvent.click(button(/^Save$/));
		expect(screen.getByRole("alert").textContent).toContain("Fewer than the 4 on day 3");
		expect(onTap).not.toHaveBeenCalled();
		fireEvent.click(button(/^Save$/));
		expect(onTap).toHaveBeenCalledOnce();
	});
});

describe("two looks that differ", () => {
	it("are shown side by side, and either may hold", () => {
		const other = seen({ id: "look-002", stage: 6, who: "Ines" });
		const onSettle = vi.fn();
		show(
			<ConflictCard
				unit={unit({ current: seen(), conflict: other })}
				ladder={LADDER}
				onSettle={onSettle}
			/>,
		);
		fireEvent.click(button(/Rooted.*Ines/));
		expect(onSettle).toHaveBeenLastCalledWith(other);
		fireEvent.click(button(/Callus/));
		expect(onSettle).toHaveBeenLastCalledWith(null);
	});

	it("are not shown where there is only one", () => {
		const { container } = show(
			<ConflictCard unit={unit({ current: seen() })} ladder={LADDER} onSettle={vi.fn()} />,
		);
		expect(container.querySelector("section")).toBeNull();
	});
});

describe("filling a row", () => {
	const ask = (units: RoundUnit[], last = LADDER.stages[0]) => {
		const onFill = vi.fn();
		show(<FillRow units={units} last={last} isOpen onFill={onFill} onClose={vi.fn()} />);
		return onFill;
	};

	it("asks once, by number and by code", () => {
		const onFill = ask([unit(), unit({ id: "v" })]);
		expect(screen.getByText(/Did you look at all 2/).textContent).toContain(
			"are all of them callus?",
		);
		fireEvent.click(button(/Yes, save 2/));
		expect(onFill).toHaveBeenCalledOnce();
	});

	it("has nothing to ask where all were looked at, or nothing was entered yet", () => {
		ask([]);
		expect(screen.getByText(/has been looked at/)).toBeTruthy();
		cleanup();
		show(<FillRow units={[unit()]} last={undefined} isOpen onFill={vi.fn()} onClose={vi.fn()} />);
		expect(screen.getByText(/Enter one plant of the row first/)).toBeTruthy();
	});
});

describe("the line of what waits", () => {
	const EMPTY: OutboxState = {
		kept: [],
		refused: [],
		isOpen: true,
		isOut: false,
		isShutOut: false,
		fault: "",
	};
	const row = {
		kind: "look" as const,
		item: sent({ kind: "look", stage: 3 }, "u", "id-00001", ""),
		trial: "t",
		day: 3,
		at: 0,
	};
	const line = (outbox: Partial<OutboxState>, opensAlone = true) => {
		show(
			<WaitingLine outbox={{ ...EMPTY, ...outbox }} isComplete={false} opensAlone={opensAlone} />,
		);
		return screen.getByRole("status").textContent ?? "";
	};

	it("says where the taps are and why they wait", () => {
		expect(line({})).toContain("All saved");
		cleanup();
		const kept = [{ ...row, acked: null }];
		expect(line({ kept, isOut: true })).toContain("1 tap saved on this device, no connection");
		cleanup();
		expect(line({ kept, isShutOut: true })).toContain("no longer connected: connect it again");
		cleanup();
		expect(line({ kept }, false)).toContain("Keep this page open");
	});

	it("says of when the round is where it cannot be asked anew, and how to connect again", () => {
		const fault = new ApiProblem(401, "refused", "", []);
		show(<WaitingLine outbox={EMPTY} isComplete={false} opensAlone fault={fault} toldAt={0} />);
		expect(screen.getByRole("status").textContent).toMatch(
			/^All saved.* no longer connected: connect it again\. What other devices saw since \d/,
		);
		expect(screen.getByRole("link").getAttribute("href")).toBe("/join");
	});

	it("does not say that all is saved where the device refused a tap", () => {
		expect(line({ fault: "This device is full." })).toBe("Not everything is saved.");
		expect(screen.getByRole("alert").textContent).toBe("This device is full.");
	});

	it("shows a refused tap with its sentence until the grower decides", () => {
		line({ refused: [{ ...row, acked: null, n: 4, says: "Day 60 is past the end." }] });
		expect(screen.getByRole("alert").textContent).toContain(
			"Day 60 is past the end. It is saved here.",
		);
		expect(button(/Try again/)).toBeTruthy();
		expect(button(/Discard/)).toBeTruthy();
	});
});

describe("a look after the end", () => {
	it("extends the trial to its day, with the reason", async () => {
		const trial = { id: "t", plan: { length_days: 42 } } as unknown as Trial;
		const asked = serverThat({ "POST /api/trials/t/amend": trial });
		show(<ExtendCard trial={trial} day={45} />);
		screen.getByText(/The last day was 42/);
		fireEvent.click(button("Extend the trial to day 45"));
		await waitFor(() =>
			expect(last(asked, "POST")?.body).toEqual({
				change: { length_days: 45 },
				note: "",
				reason: "looked at again after the end",
			}),
		);
	});
});
