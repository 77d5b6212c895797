import { describe, expect, it } from "vitest";
import type { Round, RoundUnit, StageScale } from "@/api/client";
import { type Desk, firstOpen, isBeside, keyOfTap, stepped, waitsFor } from "./desk";

const DESK: Desk = {
	mode: "look",
	order: "rows",
	byNew: false,
	cursor: 0,
	last: undefined,
	over: null,
};
const KEY = { look_for: "", drawing: "", key: "6" };
const CALLUS = { ...KEY, code: 3, cause: null, name: "Callus" };
const ROTTED = { ...KEY, code: null, cause: "rotted", name: "Rotted" };
const LADDER = { stages: [CALLUS], exits: [ROTTED] } as unknown as StageScale;

function unit(fields: object): RoundUnit {
	const waiting = { current: null, score: null, second: false, second_score: null, gone: false };
	return { ...waiting, ...fields } as RoundUnit;
}

describe("the desk of a round", () => {
	it("keeps the last key through an entry that has none", () => {
		const looked = stepped(DESK, { kind: "looked", key: CALLUS, cursor: 1 });
		const lifted = stepped(looked, { kind: "looked", key: undefined, cursor: 2 });
		expect([lifted.last, lifted.cursor]).toEqual([CALLUS, 2]);
	});

	it("closes the camera once its label is found, and leaves other sheets open", () => {
		const scanning = stepped(DESK, { kind: "opened", over: "scan" });
		expect(stepped(scanning, { kind: "went", cursor: 4 }).over).toBeNull();
		const noting = stepped(DESK, { kind: "opened", over: "note" });
		expect(stepped(noting, { kind: "went", cursor: 4 }).over).toBe("note");
		expect([isBeside("note"), isBeside("scan"), isBeside(null)]).toEqual([true, false, false]);
	});

	it("begins each mode at the first unit that waits for it", () => {
		const units = [
			unit({ gone: true }),
			unit({ current: {}, second: true }),
			unit({ score: {}, second: true, second_score: 4 }),
		];
		const round = { units } as Round;
		const first = (mode: Desk["mode"]) => firstOpen(round, mode, [0, 1, 2]);
		expect([first("look"), first("lift"), first("second")]).toEqual([2, 1, 1]);
		expect(firstOpen({ units: [] as RoundUnit[] } as Round, "look", [])).toBe(0);
		expect(waitsFor("second", unit({}))).toBe(false);
	});

	it("knows the key of what was tapped", () => {
		const look = { kind: "look" } as const;
		expect(keyOfTap({ ...look, stage: 3 }, LADDER)).toBe(CALLUS);
		expect(keyOfTap({ ...look, stage: 3, loss: "rotted" }, LADDER)).toBe(ROTTED);
		expect(keyOfTap({ ...look, stage: 9 }, LADDER)).toBeUndefined();
	});
});
