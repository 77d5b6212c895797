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

/** A number to three figures, as they are written where the grower lives. */
export function significant(value: number): string {
	const shape = { maximumSignificantDigits: 3, useGrouping: false };
	return new Intl.NumberFormat(undefined, shape).format(value).replace("-", MINUS);
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
