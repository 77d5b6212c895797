/** Numbers and words as they are shown. Never more digits than the bench knows. */

const MINUS = "−";

/** Halves go up, as the sentences of the finish round them. */
const whole = (share: number) => Math.floor(100 * share + 0.5 + 1e-9);

/** A fraction as whole percent. */
export function percent(share: number): string {
	return `${whole(share)}%`;
}

/** Limits of a share as whole percent: "23–67". */
export function span(low: number, high: number): string {
	return `${whole(low)}–${whole(high)}`;
}

/** A gap in points with its sign. */
export function points(gap: number): string {
	const size = whole(Math.abs(gap));
	if (size === 0) return "0 points";
	return `${gap > 0 ? "+" : MINUS}${size} ${size === 1 ? "point" : "points"}`;
}

/** A difference with its sign, in the unit of what a trial is judged on. */
export function difference(value: number, unit: string): string {
	if (unit === "points") return points(value);
	const size = Math.abs(value) < 5e-4 ? 0 : Math.abs(value);
	const said = unit ? `${significant(size)} ${unit}` : significant(size);
	return size === 0 ? said : `${value > 0 ? "+" : MINUS}${said}`;
}

/** What a treatment came to on that: whole percent, days, a measure. */
export function amount(value: number, unit: string): string {
	if (unit === "points") return percent(value);
	return unit ? `${significant(value)} ${unit}` : significant(value);
}

/** A probability in words that do not claim more than it knows. */
export function chance(p: number): string {
	if (p < 0.001) return "below 0.001";
	return p < 0.1 ? decimal(p, 3) : decimal(p, 2);
}

/** A number with so many decimals, as they are written where the grower lives. */
export function decimal(value: number, digits: number): string {
	const shape = { minimumFractionDigits: digits, maximumFractionDigits: digits };
	return new Intl.NumberFormat(undefined, shape).format(value).replace("-", MINUS);
}

/** A day of a trial; a part of one where the record holds it. */
export const dayOf = (value: number) => significant(value);

/** A number to three figures, as they are written where the grower lives. */
export function significant(value: number): string {
	const shape = { maximumSignificantDigits: 3, useGrouping: false };
	return new Intl.NumberFormat(undefined, shape).format(value).replace("-", MINUS);
}

/** How many units of how many treatments; unequal numbers as they are. */
export function numbersOf(plan: {
	treatments: readonly { units?: number | null }[];
	units: number;
}): string {
	const each = plan.treatments.map((t) => t.units ?? plan.units);
	const same = new Set(each).size === 1;
	return `${count(each.length, "treatment")} with ${same ? `${each[0]} each` : each.join(", ")}`;
}

export function count(n: number, one: string, many = `${one}s`): string {
	return `${n.toLocaleString("en-GB")} ${n === 1 ? one : many}`;
}

const DATE = new Intl.DateTimeFormat(undefined, { day: "numeric", month: "short" });

/** A calendar date (YYYY-MM-DD) or a stamp, as day and month. */
export function dayMonth(stamp: string): string {
	const isDate = /^\d{4}-\d{2}-\d{2}$/.test(stamp);
	return DATE.format(new Date(isDate ? `${stamp}T12:00:00` : stamp));
}

/** The date of a day of the trial. */
export function dateOfDay(startedOn: string, day: number): string {
	const date = new Date(`${startedOn}T12:00:00`);
	date.setDate(date.getDate() + day);
	return DATE.format(date);
}

const MONTH = new Intl.DateTimeFormat(undefined, { month: "short", year: "numeric" });

/** A calendar date (YYYY-MM-DD) as its month and year. */
export const monthOf = (date: string) => MONTH.format(new Date(`${date}T12:00:00`));
