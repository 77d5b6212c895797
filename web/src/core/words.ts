/** Words for the things of a plan, the same on every page. */

export const ROLE_WORDS = {
	control: "untreated control",
	carrier: "carrier control",
	positive: "positive control",
	negative: "negative control",
	standard: "standard",
	candidate: "candidate",
} as const;

const SIDES = ["top", "right", "bottom", "left"] as const;

/** What stands where around the bench: "door at the left, wall at the top". */
export function sidesSay(sides: readonly string[]): string {
	return SIDES.map((side, i) => (sides[i] ? `${sides[i]} at the ${side}` : ""))
		.filter(Boolean)
		.reverse()
		.join(", ");
}

/** Day numbers as typed ("3, 7 14"), or null where something is no whole number. */
export function daysTyped(text: string): number[] | null {
	const parts = text.split(/[\s,;]+/).filter(Boolean);
	return parts.every((p) => /^\d{1,4}$/.test(p)) ? parts.map(Number) : null;
}

/** Looks as typed: "every 3" (days), or the very days; null where it is neither. */
export function looksTyped(text: string): { every: number } | { days: number[] } | null {
	const every = /^\s*every\s+(\d{1,4})(\s*days?)?\s*$/i.exec(text);
	if (every) return { every: Number(every[1]) };
	const days = daysTyped(text);
	return days && days.length > 0 ? { days } : null;
}

/** Looks as they are written in the field. */
export function looksSaid(every: number | undefined, days: readonly number[] | undefined): string {
	return days && days.length > 0 ? days.join(", ") : `every ${every} days`;
}

/** Numbers as typed, one a line or parted by blanks; a dash or "x" for one not measured. */
export function valuesTyped(text: string): (number | null)[] | null {
	const parts = text.split(/[\s;]+/).filter(Boolean);
	const out: (number | null)[] = [];
	for (const part of parts) {
		if (/^[-x]$/i.test(part)) out.push(null);
		else if (/^\d+([.,]\d+)?$/.test(part)) out.push(Number(part.replace(",", ".")));
		else return null;
	}
	return out;
}
