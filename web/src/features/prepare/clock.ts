/** The clock in words: how long is left, and what comes next. */

import type { ClockStep } from "@/api/client";

/** A length of time in ms: "4 s", "12 min", "3 h 20 min", "2 days 4 h". */
export function long(ms: number): string {
	const s = Math.round(Math.abs(ms) / 1000);
	if (s < 90) return `${s} s`;
	const min = Math.round(s / 60);
	if (min < 90) return `${min} min`;
	const h = Math.floor(min / 60);
	if (h < 48) return min % 60 ? `${h} h ${min % 60} min` : `${h} h`;
	const days = Math.floor(h / 24);
	return h % 24 ? `${days} days ${h % 24} h` : `${days} days`;
}

/** Minutes as they are typed and shown: "5 s", "20 min", "12 h". */
export function minutesSaid(minutes: number): string {
	return long(minutes * 60_000);
}

const MINUTES_PER: Record<string, number> = { s: 1 / 60, m: 1, h: 60, d: 1440, w: 10_080 };
const NIGHT_MINUTES = 720;

/**
 * Minutes of what was typed: "5 s", "20 min", "12 h", "2 d", "a week", "1h30", "overnight"; a bare
 * number is hours; null where it is none of these.
 */
export function minutesTyped(text: string): number | null {
	const said = text
		.trim()
		.toLowerCase()
		.replace(/^an?\s+/, "1 ");
	if (said === "overnight") return NIGHT_MINUTES;
	const both = /^(\d+)\s*(?:h|hrs?|hours?)\s*([0-5]?\d)\s*(?:m|mins?|minutes?)?$/.exec(said);
	if (both) return Number(both[1]) * 60 + Number(both[2]);
	const m =
		/^(\d+(?:[.,]\d+)?)\s*(s|secs?|seconds?|m|mins?|minutes?|h|hrs?|hours?|d|days?|w|wks?|weeks?)?$/.exec(
			said,
		);
	if (!m?.[1]) return null;
	const value = Number(m[1].replace(",", "."));
	const minutes = value * (MINUTES_PER[(m[2] ?? "h")[0] ?? ""] ?? 60);
	return minutes > 0 ? minutes : null;
}

export type StepState = "done" | "running" | "over" | "late" | "coming";

/** How a step stands at a moment: over is running past its end, late is due and not started. */
export function stateOf(step: ClockStep, now: number): StepState {
	if (step.stopped_at) return "done";
	if (step.started_at) {
		return now - Date.parse(step.started_at) > step.minutes * 60_000 ? "over" : "running";
	}
	return now > Date.parse(step.start) ? "late" : "coming";
}

/** What is left of a running step, in ms; negative once it is over. */
export function left(step: ClockStep, now: number): number {
	return Date.parse(step.started_at ?? step.start) + step.minutes * 60_000 - now;
}

/** The step to attend to next: what runs out first, else what starts first. */
export function next(steps: readonly ClockStep[], now: number): ClockStep | undefined {
	const open = steps.filter((s) => !s.stopped_at);
	const running = open.filter((s) => s.started_at).sort((a, b) => left(a, now) - left(b, now));
	const waiting = open
		.filter((s) => !s.started_at)
		.sort((a, b) => Date.parse(a.start) - Date.parse(b.start));
	const first = running[0];
	const then = waiting[0];
	if (!first || !then) return first ?? then;
	return now + left(first, now) <= Date.parse(then.start) ? first : then;
}

const HOUR = new Map<string, Intl.DateTimeFormat>();

/** A moment in the trial's zone: "Tue 24 Nov, 22:03". */
export function moment(stamp: string, zone: string): string {
	let format = HOUR.get(zone);
	if (!format) {
		const options = {
			weekday: "short",
			day: "numeric",
			month: "short",
			hour: "2-digit",
			minute: "2-digit",
			hourCycle: "h23",
		} as const;
		try {
			format = new Intl.DateTimeFormat(undefined, { ...options, timeZone: zone });
		} catch {
			format = new Intl.DateTimeFormat(undefined, options);
		}
		HOUR.set(zone, format);
	}
	return format.format(new Date(stamp));
}
