import type { Kind, Schemas } from "@/api/client";

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

const PACK =
	/^Garden\|Started on\|Counted on\|(How many[^|]*)\|(.+)\|Status\|Remarks\|Order\|Pack$/;

/** The columns of a file that a garden pack gave back: they need no matching. */
export function ofPack(heads: readonly string[]): Columns | undefined {
	const found = PACK.exec(heads.join("|"));
	if (!found?.[1] || !found[2]) return undefined;
	const arms = found[2].split("|").map((name) => ({ name, column: name }));
	const shared = { garden: "Garden", start: "Started on", date: "Counted on", status: "Status" };
	return { ...NO_COLUMNS, ...shared, count: found[1], arms };
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

/** Files of one garden each as one form, one below the other; else why they are not joined. */
export async function joined(files: File[]): Promise<File | string> {
	const [first] = files;
	if (!first || files.length === 1) return first ?? "Choose a file.";
	if (files.some((f) => f.name.toLowerCase().endsWith(".xlsx")))
		return "Only CSV files are put together: open an XLSX file alone.";
	const texts = await Promise.all(files.map((f) => f.text()));
	const head = (text: string) => text.replace(/^\uFEFF/, "").split(/\r?\n/, 1)[0] ?? "";
	const odd = texts.findIndex((t) => head(t) !== head(texts[0] ?? ""));
	if (odd > 0)
		return `${files[odd]?.name} has other columns than ${first.name}: files of one pack belong together.`;
	const rows = texts.map((t) =>
		t
			.replace(/^\uFEFF/, "")
			.split(/\r?\n/)
			.slice(1)
			.join("\n")
			.trim(),
	);
	const text = [head(texts[0] ?? ""), ...rows.filter(Boolean)].join("\n");
	return new File([`${text}\n`], `${files.length} gardens.csv`, { type: "text/csv" });
}

/** What the gardens set, as the headings of their form say. */
export function kindOf(heads: readonly string[]): Kind {
	return heads.some((h) => /\b(seeds?|sown|sowed|came up|germinated)\b/i.test(h))
		? "seed"
		: "cutting";
}
