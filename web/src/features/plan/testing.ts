/** A plan for tests of its form: two treatments, single cuttings in four blocks. */
import type { Plan } from "@/api/client";

export const A_PLAN = {
	kind: "cutting",
	outcome: "usual",
	subject: "hormone",
	measure: "strike",
	secondary: [],
	material: "olive tips",
	question: "Does IBA help?",
	length_days: 42,
	look_every_days: 3,
	look_days: [],
	gap_points: 20,
	expected_percent: 50,
	graded_by: "",
	level: "propagule",
	layout: "blocks",
	blocks: 4,
	block_basis: "place",
	units: 24,
	per_container: 1,
	icc: 0.1,
	at_hand: [],
	treatments: [
		{ name: "Untreated", role: "control", silk: "plain", agent: "nothing", carrier: "none" },
		{ name: "IBA", role: "candidate", silk: "hoops", agent: "hormone", carrier: "water" },
	],
} as unknown as Plan;
