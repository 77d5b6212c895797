import { describe, expect, it } from "vitest";
import type { ClockStep } from "@/api/client";
import { left, long, minutesSaid, minutesTyped, moment, next, stateOf } from "./clock";

const step = (over: Partial<ClockStep>): ClockStep => ({
	key: "0-0",
	treatment: 0,
	name: "soak",
	minutes: 60,
	start: "2026-05-03T08:00:00Z",
	stop: "2026-05-03T09:00:00Z",
	started_at: null,
	stopped_at: null,
	says: "",
	...over,
});
const at = (hour: string) => Date.parse(`2026-05-03T${hour}:00Z`);

describe("times as they are typed and said", () => {
	it.each([
		["5 s", 5 / 60, "5 s"],
		["20 min", 20, "20 min"],
		["12", 720, "12 h"],
		["1,5 h", 90, "1 h 30 min"],
		["3 days", 4320, "3 days"],
	])("%s", (text, minutes, said) => {
		expect(minutesTyped(text)).toBeCloseTo(minutes, 6);
		expect(minutesSaid(minutes)).toBe(said);
	});
	it.each([
		["1h30", 90],
		["1 h 30 min", 90],
		["overnight", 720],
		["a week", 10_080],
		["24hrs", 1440],
		["1,5 h", 90],
	])("takes %s", (text, minutes) => {
		expect(minutesTyped(text)).toBe(minutes);
	});
	it.each(["", "soon", "-3 h", "0 h", "12 moons"])("refuses %s", (text) => {
		expect(minutesTyped(text)).toBeNull();
	});
	it("says long times in days and hours", () => {
		expect(long(52 * 3_600_000)).toBe("2 days 4 h");
		expect(long(-90_000)).toBe("2 min");
	});
});

describe("how a step stands", () => {
	it("is coming, then late, then running, over and done", () => {
		expect(stateOf(step({}), at("07:59"))).toBe("coming");
		expect(stateOf(step({}), at("08:10"))).toBe("late");
		const running = step({ started_at: "2026-05-03T08:10:00Z" });
		expect(stateOf(running, at("08:30"))).toBe("running");
		expect(left(running, at("08:30"))).toBe(40 * 60_000);
		expect(stateOf(running, at("09:11"))).toBe("over");
		expect(left(running, at("09:11"))).toBeLessThan(0);
		expect(stateOf(step({ stopped_at: "2026-05-03T09:00:00Z" }), at("10:00"))).toBe("done");
	});
	it("names what runs out or starts first", () => {
		const running = step({ key: "1-0", started_at: "2026-05-03T08:00:00Z" });
		const soon = step({ key: "2-0", start: "2026-05-03T08:30:00Z" });
		const later = step({ key: "3-0", start: "2026-05-03T09:30:00Z" });
		expect(next([later, running, soon], at("08:20"))?.key).toBe("2-0");
		expect(next([later, running], at("08:20"))?.key).toBe("1-0");
		expect(next([], at("08:20"))).toBeUndefined();
	});
});

describe("a moment in the trial's zone", () => {
	it("is told by that zone's clock, or by this device's where the zone is unknown", () => {
		expect(moment("2026-05-03T08:00:00Z", "Europe/Lisbon")).toContain("09:00");
		expect(moment("2026-05-03T08:00:00Z", "No/Where")).toMatch(/\d\d:\d\d/);
	});
});
