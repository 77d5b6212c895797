import { describe, expect, it } from "vitest";
import type { PlanRead } from "@/api/client";
import {
	addTreatment,
	changeTreatment,
	fieldOf,
	isComplete,
	locksOf,
	merged,
	newDraft,
	toggledLock,
	withLayout,
	withLevel,
	withOverride,
	withoutTreatment,
	withPrepared,
	withProperty,
	withStage,
	withStock,
	withTemplate,
	withTreatmentAt,
} from "./plan";

const plan = newDraft("UTC").plan;
const silks = ["plain", "halves", "hoops", "chevron"];

describe("a draft plan", () => {
	it("gives a new treatment a silk nobody wears, never plain", () => {
		const more = addTreatment(addTreatment(plan, silks), silks);
		expect(more.treatments.map((t) => t.silk)).toEqual(["plain", "hoops", "halves", "chevron"]);
	});

	it("hands plain to whoever becomes the control", () => {
		const swapped = changeTreatment(plan, 1, { role: "control" });
		expect(swapped.treatments.map((t) => t.silk)).toEqual(["hoops", "plain"]);
		expect(plan.treatments.map((t) => t.silk)).toEqual(["plain", "hoops"]);
	});

	it("puts a removed treatment back where it was", () => {
		const gone = plan.treatments[0];
		if (!gone) throw new Error("no treatment");
		const back = withTreatmentAt(withoutTreatment(plan, 0), 0, gone);
		expect(back.treatments).toEqual(plan.treatments);
	});

	it("asks how the lot is drawn in one choice, and keeps blocks where there are some", () => {
		expect(withLayout(plan, "random")).toMatchObject({ layout: "blocks", blocks: 1 });
		expect(withLayout({ ...plan, blocks: 1 }, "blocks").blocks).toBe(4);
		expect(withLayout({ ...plan, blocks: 6 }, "split")).toMatchObject({
			layout: "split",
			blocks: 6,
		});
	});

	it("gives a container several plants and a plant its own place", () => {
		expect(withLevel(plan, "container").per_container).toBe(5);
		expect(withLevel({ ...plan, per_container: 9 }, "tray").per_container).toBe(9);
		expect(withLevel({ ...plan, per_container: 9 }, "propagule").per_container).toBe(1);
	});

	it("keeps the words with a template, and the arms too with a stage alone", () => {
		const written = { ...plan, question: "Q?", units: 7 };
		const from = { ...newDraft("UTC").plan, units: 8, length_days: 28 } as unknown as PlanRead;
		expect(withTemplate(written, from)).toMatchObject({
			question: "Q?",
			units: 8,
			length_days: 28,
		});
		const mine = addTreatment(written, silks);
		expect(withStage(mine, from)).toEqual({ ...mine, length_days: 28 });
	});

	it("keeps one reference", () => {
		const one = changeTreatment(plan, 1, { reference: true });
		const back = changeTreatment(one, 0, { reference: true });
		expect(back.treatments.map((t) => t.reference)).toEqual([true, false]);
	});

	it("keeps a property, a stock and an override once each, and takes them back", () => {
		const first = plan.treatments[0];
		if (!first) throw new Error("no treatment");
		const wet = { ...first, ...withProperty(first, "wetting", "dry") };
		expect(withProperty(wet, "wetting", "12 h").properties).toEqual([
			{ name: "wetting", value: "12 h" },
		]);
		expect(withProperty(wet, "wetting", "").properties).toEqual([]);
		expect(withStock(withStock(plan, "labels", 3), "labels", 5).at_hand).toEqual([
			{ key: "labels", amount: 5 },
		]);
		expect(withStock(plan, "labels", null).at_hand).toEqual([]);
		expect(withOverride(plan, "not_drawn", "no room").overrides).toHaveLength(1);
		expect(withOverride(withOverride(plan, "not_drawn", "x"), "not_drawn", "").overrides).toEqual(
			[],
		);
	});

	it("locks a cell and frees it again", () => {
		const cell = {
			code: "A1",
			tray: 0,
			row: 0,
			col: 0,
			block: 0,
			spare: false,
			border: false,
			locked: false,
			treatment: 1,
			label: null,
			turn: null,
		};
		const locked = toggledLock([], cell);
		expect(locked).toEqual([{ tray: 0, row: 0, col: 0, treatment: 1 }]);
		expect(toggledLock(locked, cell)).toEqual([]);
		expect(locksOf([{ ...cell, locked: true }])).toEqual(locked);
	});

	it("knows a half-typed number from a number", () => {
		expect(isComplete(plan)).toBe(true);
		expect(isComplete({ ...plan, units: null as unknown as number })).toBe(false);
	});

	it("reads a pointer with or without the plan before it", () => {
		expect(fieldOf("/plan/units")).toBe("units");
		expect(fieldOf("/treatments/1/name")).toBe("treatments/1/name");
	});

	it("keeps the clock and agents that Prepare set, by the name of each treatment", () => {
		const named = changeTreatment(plan, 1, { name: "Soaked" });
		const steps = [{ name: "soak", minutes: 720 }];
		const saved = {
			...named,
			set_at: "2026-05-03T09:30",
			start_together: true,
			unit_seconds: 45,
			treatments: named.treatments.map((t) =>
				t.name === "Soaked" ? { ...t, steps, agent_id: "bottle" } : t,
			),
		} as unknown as PlanRead;
		const more = addTreatment(named, silks);
		const found = withPrepared(more, saved);
		expect(found.treatments[1]).toMatchObject({ name: "Soaked", steps, agent_id: "bottle" });
		expect(found.treatments[2]?.steps).toEqual([]);
		expect(found).toMatchObject({ set_at: "2026-05-03T09:30", unit_seconds: 45 });
		expect(withPrepared(more, undefined)).toBe(more);
	});

	it("keeps what Prepare set of a treatment that is renamed, by its id", () => {
		const steps = [{ name: "soak", minutes: 720 }];
		const arms = plan.treatments.map((t, i) => ({ ...t, id: `t${i}` }));
		const saved = {
			...plan,
			treatments: arms.map((t) => (t.id === "t1" ? { ...t, steps } : t)),
		} as unknown as PlanRead;
		const renamed = changeTreatment({ ...plan, treatments: arms }, 1, { name: "Another name" });
		expect(withPrepared(renamed, saved).treatments[1]).toMatchObject({ id: "t1", steps });
	});

	it("puts two changes together and tells only what clashes", () => {
		const base = { ...plan, units: 6, question: "One?", length_days: 42 };
		const mine = { ...base, units: 8, question: "Mine?" };
		const theirs = { ...base, length_days: 30, question: "Theirs?" };
		const found = merged(base, mine, theirs);
		expect(found.plan).toMatchObject({ units: 8, length_days: 30, question: "Mine?" });
		expect(found.clashes).toEqual([{ field: "question", mine: "Mine?", theirs: "Theirs?" }]);
		expect(merged(base, mine, base)).toEqual({ plan: mine, clashes: [] });
	});
});
