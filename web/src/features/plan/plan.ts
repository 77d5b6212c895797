import type { Plan, PlanRead, Treatment } from "@/api/client";

export interface Draft {
	plan: Plan;
	seed: number;
}

/** What a kind of trial usually wants; common practice, all editable. */
const USUAL = {
	cutting: { endpoint: 6, threshold_mm: 10, length_days: 42, look_every_days: 3, day0: "sticking" },
	seed: { endpoint: 3, threshold_mm: 2, length_days: 21, look_every_days: 2, day0: "sowing" },
} as const;

export function newSeed(): number {
	const [word = 1] = crypto.getRandomValues(new Uint32Array(1));
	return word % 2 ** 31;
}

/** A first draft: a control and one candidate, ready to be named. */
export function newDraft(timeZone: string): Draft {
	return {
		seed: newSeed(),
		plan: {
			question: "",
			material: "",
			kind: "cutting",
			treatments: [
				{
					name: "Untreated",
					role: "control",
					detail: "nothing",
					agent: "nothing",
					carrier: "none",
					silk: "plain",
				},
				{
					name: "",
					role: "candidate",
					detail: "",
					agent: "hormone",
					carrier: "none",
					silk: "hoops",
				},
			],
			units: 24,
			per_container: 1,
			blocks: 4,
			columns: 12,
			gap_points: 20,
			expected_percent: 50,
			blind: false,
			count_singly: false,
			time_zone: timeZone,
			door: "left",
			...USUAL.cutting,
		},
	};
}

/** The same plan for the other kind of propagule, with what that kind usually wants. */
export function withKind(plan: Plan, kind: Plan["kind"]): Plan {
	return kind === plan.kind ? plan : { ...plan, kind, ...USUAL[kind] };
}

/** A saved plan as the form edits it. */
export function editable(plan: PlanRead): Plan {
	return { ...plan, treatments: plan.treatments.map((t) => ({ ...t })) };
}

/** A new candidate wearing the first silk nobody wears. */
export function addTreatment(plan: Plan, silks: string[]): Plan {
	const worn = new Set(plan.treatments.map((t) => t.silk));
	const silk = silks.find((s) => s !== "plain" && !worn.has(s)) ?? "hoops";
	const last = plan.treatments.at(-1);
	const fresh: Treatment = {
		name: "",
		role: "candidate",
		detail: "",
		agent: last?.agent ?? "hormone",
		carrier: last?.carrier ?? "none",
		silk,
	};
	return { ...plan, treatments: [...plan.treatments, fresh] };
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

/** A typed number as it will be sent: what is not a number is sent as it is, and said to be wrong. */
export function typed(value: string | number): number {
	return value === "" ? Number.NaN : Number(value);
}

/** Whether every number of a plan is one; a half-typed field is not sent. */
export function isComplete(plan: Plan): boolean {
	return Object.values(plan).every((v) => v !== null && !Number.isNaN(v));
}

/** The pointer of a server fault as the form names its fields ("/plan/units" and "/units" alike). */
export function fieldOf(pointer: string): string {
	return pointer.replace(/^\/plan/, "").replace(/^\//, "");
}
