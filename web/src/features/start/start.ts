import type { Schemas } from "@/api/client";

export type Asked = Schemas["DesignIn"];
export type Designs = Schemas["DesignsOut"];
export type Proposal = Schemas["ProposedPlanOut"];

/** The answers to the three questions as they stand on the page; null and "" where nothing is entered. */
export interface Answers {
	question: string;
	against: Asked["against"] | "";
	plants: number | null;
	containers: number | null;
	container: NonNullable<Asked["container"]>;
	sites: number | null;
	days: number | null;
	percent: number | null;
	points: number | null;
	blind: boolean;
	differ: NonNullable<Asked["differ"]>;
	/** What was changed of what was read; "" where it stands as read. */
	kind: Asked["kind"] | "";
	plant: string;
	names: string;
}

export const NO_ANSWERS: Answers = {
	question: "",
	against: "",
	plants: null,
	containers: null,
	container: "container",
	sites: null,
	days: null,
	percent: null,
	points: null,
	blind: false,
	differ: [],
	kind: "",
	plant: "",
	names: "",
};

export const AGAINST = [
	{ value: "nothing", label: "nothing (untreated)" },
	{ value: "plain water", label: "plain water" },
	{ value: "the usual way", label: "the usual way" },
	{
		value: "the same without the active ingredient",
		label: "the same without the active ingredient",
	},
];

export const CONTAINERS = ["container", "jar", "pot", "cell", "tray", "bag"].map((value) => ({
	value,
	label: `${value}s`,
}));

export const DIFFER: { value: Answers["differ"][number]; label: string }[] = [
	{ value: "water", label: "water" },
	{ value: "place", label: "light or place" },
	{ value: "age", label: "age" },
	{ value: "lot", label: "mother plant" },
	{ value: "size", label: "size" },
	{ value: "handling", label: "who does it" },
	{ value: "start", label: "start day" },
];

/** What is sent of the answers; undefined while there is nothing to design from. */
export function askedOf(a: Answers, timeZone: string): Asked | undefined {
	if (a.plants === null) return undefined;
	const names = a.names.split(",").map((n) => n.trim());
	return {
		question: a.question.slice(0, 300),
		against: a.against || null,
		plants: a.plants,
		containers: a.containers,
		container: a.container,
		sites: a.sites ?? 1,
		days: a.days,
		control_percent: a.percent,
		gap_points: a.points,
		blind: a.blind,
		differ: a.differ,
		kind: a.kind || null,
		plant: a.plant || null,
		names: a.names ? names.filter((n) => n) : null,
		time_zone: timeZone,
	};
}
