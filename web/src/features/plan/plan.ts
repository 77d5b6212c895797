import type { Cell, Plan, PlanRead, Schemas, Treatment } from "@/api/client";
import { PLAN_DEFAULTS, TREATMENT_DEFAULTS } from "@/api/defaults";
import { newSeed } from "@/core/seed";

export interface Lock {
	tray: number;
	row: number;
	col: number;
	treatment: number;
}

export interface Draft {
	plan: Plan;
	seed: Schemas["DraftIn"]["seed"];
	locks: Lock[];
	/** Of the saved plan this was made from, and that plan; null for one never saved. */
	revision: number | null;
	base: Plan | null;
}

/** What is sent of a draft. */
export const asDraft = ({ base: _, ...sent }: Draft): Schemas["DraftIn"] => sent;

const BARE = { ...TREATMENT_DEFAULTS, id: "" };

/** A first draft: a control and one candidate, ready to be named. */
export function newDraft(timeZone: string): Draft {
	return {
		seed: newSeed(),
		locks: [],
		revision: null,
		base: null,
		plan: {
			...PLAN_DEFAULTS,
			question: "",
			material: "",
			kind: "cutting",
			treatments: [
				{ ...BARE, name: "Untreated", role: "control", detail: "nothing" },
				{ ...BARE, name: "", role: "candidate", agent: "hormone", silk: "hoops" },
			],
			units: 24,
			blocks: 4,
			columns: 12,
			time_zone: timeZone,
		},
	};
}

/** The template's plan with the words the grower has written already. */
export function withTemplate(plan: Plan, from: PlanRead): Plan {
	return {
		...editable(from),
		question: plan.question,
		material: plan.material,
		prior: plan.prior,
		columns: plan.columns,
		tray_rows: plan.tray_rows,
		tray_names: plan.tray_names,
		sides: plan.sides,
		at_hand: plan.at_hand,
	};
}

/** The same plan on another wood stage or crop: its days and endpoint change, its arms stay. */
export function withStage(plan: Plan, from: PlanRead): Plan {
	const { kind, endpoint, threshold_mm, length_days, look_days, look_every_days, day0 } = from;
	const watched = { outcome: from.outcome, own_steps: from.own_steps };
	const { expected_percent, expected_days, gap_days } = from;
	const days = { length_days, look_days, look_every_days, day0, expected_days, gap_days };
	return { ...plan, kind, endpoint, threshold_mm, expected_percent, ...watched, ...days };
}

/** A saved plan as the form edits it. */
export function editable(plan: PlanRead): Plan {
	return { ...plan, treatments: plan.treatments.map((t) => ({ ...t })) };
}

/** The locks of a saved bench. */
export function locksOf(bench: Cell[]): Lock[] {
	return bench.flatMap(({ tray, row, col, locked, treatment }) =>
		locked && treatment !== null ? [{ tray, row, col, treatment }] : [],
	);
}

/** A cell locked where it was free, and freed where it was locked. */
export function toggledLock(locks: Lock[], cell: Cell): Lock[] {
	const others = locks.filter(
		(k) => k.tray !== cell.tray || k.row !== cell.row || k.col !== cell.col,
	);
	if (others.length < locks.length || cell.treatment === null) return others;
	const { tray, row, col, treatment } = cell;
	return [...others, { tray, row, col, treatment }];
}

/** A new candidate wearing the first silk nobody wears. */
export function addTreatment(plan: Plan, silks: string[]): Plan {
	const last = plan.treatments.at(-1);
	const fresh: Treatment = {
		...BARE,
		name: "",
		role: "candidate",
		detail: "",
		agent: last?.agent ?? "hormone",
		carrier: last?.carrier ?? "none",
		silk: freeSilk(plan, silks),
	};
	return { ...plan, treatments: [...plan.treatments, fresh] };
}

function freeSilk(plan: Plan, silks: string[]): string {
	const worn = new Set(plan.treatments.map((t) => t.silk));
	return silks.find((s) => s !== "plain" && !worn.has(s)) ?? "hoops";
}

/** One treatment changed. Whoever becomes the control wears plain, and plain is theirs alone. */
export function changeTreatment(plan: Plan, i: number, change: Partial<Treatment>): Plan {
	const treatments = plan.treatments.map((t, k) => (k === i ? { ...t, ...change } : { ...t }));
	const changed = treatments[i];
	if (change.role === "control" && changed && changed.silk !== "plain") {
		const other = treatments.find((t, k) => k !== i && t.silk === "plain");
		if (other) other.silk = changed.silk;
		changed.silk = "plain";
	}
	if (change.reference) {
		treatments.forEach((t, k) => {
			t.reference = k === i;
		});
	}
	return { ...plan, treatments };
}

/** A treatment taken out, or put back where it was. */
export function withoutTreatment(plan: Plan, i: number): Plan {
	return { ...plan, treatments: plan.treatments.filter((_, k) => k !== i) };
}

export function withTreatmentAt(plan: Plan, i: number, treatment: Treatment): Plan {
	const treatments = [...plan.treatments];
	treatments.splice(i, 0, treatment);
	return { ...plan, treatments };
}

/** What is said of an arm under this name; empty where nothing is. */
export function propertyOf(t: Treatment, name: string): string {
	return t.properties?.find((p) => p.name === name)?.value ?? "";
}

/** An arm with one thing said of it; an empty value takes it back. */
export function withProperty(t: Treatment, name: string, value: string): Partial<Treatment> {
	const others = (t.properties ?? []).filter((p) => p.name !== name);
	return { properties: value ? [...others, { name, value }] : others };
}

/** How much of a thing is at hand; null takes the count back. */
export function withStock(plan: Plan, key: string, amount: number | null): Plan {
	const others = (plan.at_hand ?? []).filter((s) => s.key !== key);
	return { ...plan, at_hand: amount === null ? others : [...others, { key, amount }] };
}

/** A warning overruled with a reason; an empty reason takes it back. */
export function withOverride(plan: Plan, code: string, reason: string): Plan {
	const others = (plan.overrides ?? []).filter((o) => o.code !== code);
	return { ...plan, overrides: reason ? [...others, { code, reason }] : others };
}

/** The layout changed, with what goes with it. */
export function withLayout(plan: Plan, layout: string): Plan {
	if (layout === "random") return { ...plan, layout: "blocks", blocks: 1 };
	const blocks = plan.blocks === 1 ? 4 : plan.blocks;
	return { ...plan, layout: layout as Plan["layout"], blocks };
}

/** The level the lot is drawn at changed, with the number in each unit. */
export function withLevel(plan: Plan, level: NonNullable<Plan["level"]>): Plan {
	const many = (plan.per_container ?? 1) > 1 ? plan.per_container : 5;
	return { ...plan, level, per_container: level === "propagule" ? 1 : many };
}

/** Whether every number of a plan is one; a half-typed field is not sent. */
export function isComplete(plan: Plan): boolean {
	return Object.values(plan).every((v) => v !== null);
}

/** The pointer of a server fault as the form names its fields ("/plan/units" and "/units" alike). */
export function fieldOf(pointer: string): string {
	return pointer.replace(/^\/plan/, "").replace(/^\//, "");
}

/** The plan with its clock and its agents as Prepare last kept them: this page does not set them. */
export function withPrepared(plan: Plan, saved: PlanRead | undefined): Plan {
	if (!saved) return plan;
	const byId = new Map(saved.treatments.map((t) => [t.id, t]));
	const byName = new Map(saved.treatments.map((t) => [t.name, t]));
	return {
		...plan,
		set_at: saved.set_at,
		start_together: saved.start_together,
		unit_seconds: saved.unit_seconds,
		treatments: plan.treatments.map((t) => {
			const arm = (t.id && byId.get(t.id)) || byName.get(t.name);
			if (!arm) return t;
			const { id, steps, steps_settled, agent_id } = arm;
			return { ...t, id, steps, steps_settled, agent_id };
		}),
	};
}

/** A field that two people changed, each in their own way. */
export interface Clash {
	field: keyof Plan;
	mine: unknown;
	theirs: unknown;
}

/**
 * Two changes of one plan put together: what only one of them changed is taken from that one, and
 * what both changed differently is told, mine standing until somebody chooses.
 */
export function merged(base: Plan, mine: Plan, theirs: Plan): { plan: Plan; clashes: Clash[] } {
	const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
	const plan: Record<string, unknown> = { ...mine };
	const clashes: Clash[] = [];
	for (const field of Object.keys({ ...mine, ...theirs }) as (keyof Plan)[]) {
		if (same(mine[field], theirs[field]) || same(theirs[field], base[field])) continue;
		if (same(mine[field], base[field])) plan[field] = theirs[field];
		else clashes.push({ field, mine: mine[field], theirs: theirs[field] });
	}
	return { plan: plan as Plan, clashes };
}
