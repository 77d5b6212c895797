import type { Schemas } from "@/api/client";

export type Returns = Schemas["ReturnsOut"];

/** Which column is what, as it is chosen on the page; "" for none. */
export interface Columns {
	garden: string;
	start: string;
	date: string;
	count: string;
	status: string;
	/** A row for each treatment: which one, and its result. */
	treatment: string;
	struck: string;
	/** A row for each garden: a column of results for each treatment. */
	arms: { name: string; column: string }[];
	isWide: boolean;
}

export const NO_COLUMNS: Columns = {
	garden: "",
	start: "",
	date: "",
	count: "",
	status: "",
	treatment: "",
	struck: "",
	arms: [
		{ name: "", column: "" },
		{ name: "", column: "" },
	],
	isWide: true,
};

const SHARED = ["garden", "start", "date", "count", "status"] as const;

/** The pairs of a field and its column that are sent. */
export function sentOf(c: Columns): string[] {
	const shared = SHARED.filter((f) => c[f]).map((f) => `${f}=${c[f]}`);
	if (!c.isWide)
		return [
			...shared,
			...(["treatment", "struck"] as const).filter((f) => c[f]).map((f) => `${f}=${c[f]}`),
		];
	const arms = c.arms.filter((a) => a.column);
	return [...shared, ...arms.map((a) => `struck:${a.name.trim() || a.column}=${a.column}`)];
}

/** What the server guessed from the headings, where nothing was chosen yet. */
export function withGuesses(c: Columns, mapped: Record<string, string>): Columns {
	const out = { ...c };
	for (const field of [...SHARED, "treatment", "struck"] as const)
		if (!out[field] && mapped[field]) out[field] = mapped[field];
	return out;
}

const keyOf = (heads: readonly string[]) => `racecard.gardens.${heads.join("|")}`;

/** The columns that were chosen for a form with these headings before; matched by hand once. */
export function remembered(heads: readonly string[]): Columns | undefined {
	const text = localStorage.getItem(keyOf(heads));
	try {
		return text ? ({ ...NO_COLUMNS, ...JSON.parse(text) } as Columns) : undefined;
	} catch {
		return undefined;
	}
}

export const remember = (heads: readonly string[], columns: Columns) =>
	localStorage.setItem(keyOf(heads), JSON.stringify(columns));

export const TEMPLATE =
	"Garden,Started on,Looked on,How many in each,Treated,Untreated,Remarks\r\nGarden 1,2026-05-03,2026-05-24,10,7,4,\r\n";
