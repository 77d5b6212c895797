import type { Schemas } from "@/api/client";

export type Page = Schemas["HandbookPage"];

/** Whether every word that is searched for stands somewhere in these texts. */
export function finds(sought: string, ...texts: string[]): boolean {
	const text = texts.join(" ").toLowerCase();
	return sought
		.toLowerCase()
		.split(/\s+/)
		.every((word) => text.includes(word));
}

/** The pages with the rows and facts that hold what is searched for; a page of that title stays whole. */
export function within(pages: readonly Page[], sought: string): Page[] {
	if (!sought.trim()) return [...pages];
	return pages.flatMap((p) => {
		if (finds(sought, p.title)) return [p];
		const tables = p.tables.flatMap((t) => {
			if (finds(sought, t.title)) return [t];
			const kept = t.rows.map((row) => finds(sought, ...row));
			const only = <T>(list: T[]) => list.filter((_, i) => kept[i]);
			return kept.some(Boolean) ? [{ ...t, rows: only(t.rows), own: only(t.own) }] : [];
		});
		const facts = p.facts.filter((f) => finds(sought, f.says, f.source));
		return tables.length || facts.length ? [{ ...p, tables, facts }] : [];
	});
}
