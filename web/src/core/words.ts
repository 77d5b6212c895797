/** Words for the things of a plan, the same on every page. */

export const ROLE_WORDS = {
	control: "untreated control",
	carrier: "carrier control",
	positive: "positive control",
	negative: "negative control",
	standard: "standard",
	candidate: "to be tested",
} as const;

const SIDES = ["top", "right", "bottom", "left"] as const;

/** What stands where around the bench: "door at the left, wall at the top". */
export function sidesSay(sides: readonly string[]): string {
	return SIDES.map((side, i) => (sides[i] ? `${sides[i]} at the ${side}` : ""))
		.filter(Boolean)
		.reverse()
		.join(", ");
}

/** Day numbers as typed ("3, 7 14"), or null where something is not a whole number. */
export function daysTyped(text: string): number[] | null {
	const parts = text.split(/[\s,;]+/).filter(Boolean);
	return parts.every((p) => /^\d{1,4}$/.test(p)) ? parts.map(Number) : null;
}

const EVERY: Record<string, number> = {
	daily: 1,
	"every day": 1,
	"a day": 1,
	"every other day": 2,
	"every second day": 2,
	weekly: 7,
	"every week": 7,
	"a week": 7,
	fortnightly: 14,
	"every other week": 14,
	"every fortnight": 14,
};

const WEEKDAYS = ["sun", "mon", "tue", "wed", "thu", "fri", "sat"];

/** Days of the week as typed, "Mon and Thu", as numbers from Sunday, 0; null where it is none. */
function weekdaysTyped(said: string): number[] | null {
	const parts = said
		.replace(/^every /, "")
		.split(/,|;|\band\b|&|\+|\s/)
		.filter(Boolean);
	const days = parts.map((p) =>
		WEEKDAYS.findIndex((d) => p.startsWith(d) && /^[a-z]{3}(s|[a-z]{0,3}days?)?$/.test(p)),
	);
	return days.length > 0 && !days.includes(-1) ? days : null;
}

/** When a trial starts and how long it runs, for looks on days of the week. */
export interface Span {
	/** Its first day as 2026-05-03, or "" where nobody has said. */
	start: string;
	lastDay: number;
}

/** Why looks that were typed cannot be taken, in a sentence. */
export function looksFault(text: string, span?: Span): string | undefined {
	if (looksTyped(text, span)) return undefined;
	if (weekdaysTyped(text.trim().toLowerCase()))
		return "Days of the week need the day it starts: set that in Prepare first, or write days such as 3, 7, 10.";
	return "Type “every 3 days”, “weekly”, “Mon and Thu”, or days such as 7, 14, 21";
}

/**
 * Looks as typed: "every 3" (days), "weekly", "Mon and Thu", or the very days; null where it is none
 * of them, or where days of the week have no start to be counted from.
 */
export function looksTyped(
	text: string,
	span?: Span,
): { every: number } | { days: number[] } | null {
	const said = text.trim().toLowerCase().replace(/\s+/g, " ");
	const word = EVERY[said.replace(/^once /, "")];
	if (word) return { every: word };
	const every = /^every (\d{1,4}) ?(days?|d|weeks?|wks?)?$/.exec(said);
	if (every) return { every: Number(every[1]) * (every[2]?.startsWith("w") ? 7 : 1) };
	const week = weekdaysTyped(said);
	if (week) {
		const first = span?.start ? new Date(`${span.start}T12:00:00Z`).getUTCDay() : Number.NaN;
		if (!span || Number.isNaN(first)) return null;
		const all = Array.from({ length: span.lastDay }, (_, i) => i + 1);
		return { days: all.filter((d) => week.includes((first + d) % 7)) };
	}
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
