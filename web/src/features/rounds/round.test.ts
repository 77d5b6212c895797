import { describe, expect, it } from "vitest";
import type { Ladder, Observation, Round, RoundUnit } from "@/api/client";
import {
	asObservation,
	atCode,
	countFault,
	keyOf,
	nextOpen,
	painted,
	sameAsLast,
	sent,
	startCounts,
	step,
	tally,
	tapOf,
} from "./round";

const LADDER = {
	kind: "cutting",
	stages: [
		{
			code: 1,
			cause: null,
			name: "Nothing at the base",
			look_for: "",
			key: "1",
			drawing: "settled",
		},
		{ code: 6, cause: null, name: "Rooted", look_for: "", key: "6", drawing: "rooted" },
	],
	exits: [
		{ code: null, cause: "rotted", name: "Rotted", look_for: "", key: "8", drawing: "rotted" },
		{ code: null, cause: "removed", name: "Taken out", look_for: "", key: "x", drawing: "removed" },
	],
	endpoints: [6],
	default_endpoint: 6,
} satisfies Ladder;

const at = "2026-05-25T07:40:00Z";

function seen(fields: Partial<Observation> = {}): Observation {
	return { ...asObservation(sent({ kind: "look", stage: 1 }, "u", "id-00001", at), 3), ...fields };
}

function unit(code: string, fields: Partial<RoundUnit> = {}): RoundUnit {
	const row = code.charCodeAt(0) - 65;
	const col = Number(code.slice(1)) - 1;
	const cell = {
		code,
		tray: 0,
		row,
		col,
		block: 0,
		spare: false,
		border: false,
		locked: false,
		label: null,
		turn: null,
		treatment: null,
	};
	return { id: code, cell, previous: null, current: null, score: null, gone: false, ...fields };
}

function round(units: RoundUnit[]): Round {
	return {
		trial_id: "t",
		day: 6,
		stamp: null,
		sealed: false,
		units,
		due: units.length,
		looked_at: 0,
		arms_short: 0,
		complete: false,
		new_strikes: 0,
		previous_day: 3,
	};
}

describe("the cursor", () => {
	const units = [
		unit("A1"),
		unit("A2", { gone: true }),
		unit("A3", { current: seen() }),
		unit("B1"),
		unit("B3"),
	];

	it("goes on to the next unit that waits, past the gone and the seen", () => {
		expect(nextOpen(units, 0, (u) => !u.current)).toBe(3);
		expect(nextOpen(units, 4, (u) => !u.current)).toBe(0);
	});

	it("steps on by one where nothing waits any more", () => {
		expect(nextOpen(units, 1, () => false)).toBe(2);
		expect(nextOpen(units, 4, () => false)).toBe(4);
	});

	it("moves as the bench lies and stays at its edge", () => {
		expect(step(units, 0, "ArrowRight")).toBe(1);
		expect(step(units, 0, "ArrowLeft")).toBe(0);
		expect(step(units, 2, "ArrowDown")).toBe(4);
		expect(step(units, 3, "ArrowUp")).toBe(0);
		expect(step(units, 4, "ArrowDown")).toBe(4);
		expect(step(units, 4, "Home")).toBe(4);
	});
});

describe("taps", () => {
	it("repeat the last look with its shoot, or the first stage where there was none", () => {
		const last = unit("A1", { previous: seen({ stage: 6, shoot: true }) });
		expect(sameAsLast(last, LADDER)).toMatchObject({ stage: 6, shoot: true });
		expect(sameAsLast(unit("A1"), LADDER)).toMatchObject({ stage: 1, shoot: false });
	});

	it("say a stage with its flags, a loss with its cause, or a removal", () => {
		const flags = { shoot: true, wilted: false };
		const [rooted, rotted, out] = [LADDER.stages[1], LADDER.exits[0], LADDER.exits[1]];
		if (!rooted || !rotted || !out) throw new Error("ladder is short");
		expect(tapOf(rooted, flags)).toEqual({ kind: "look", stage: 6, shoot: true, wilted: false });
		expect(tapOf(rotted, flags)).toEqual({ kind: "look", loss: "rotted" });
		expect(tapOf(out, flags)).toEqual({ kind: "look", removed: 1 });
	});

	it("find the key that says what was seen, a loss before its stage", () => {
		expect(keyOf(seen({ stage: 6 }), LADDER)?.name).toBe("Rooted");
		expect(keyOf(seen({ stage: 6, loss: "rotted" }), LADDER)?.name).toBe("Rotted");
		expect(keyOf(seen({ stage: null, removed: 1 }), LADDER)?.name).toBe("Taken out");
		expect(keyOf(null, LADDER)).toBeUndefined();
	});

	it("paint at once on their own unit and on no other", () => {
		const before = round([unit("A1"), unit("A2")]);
		const after = painted(before, sent({ kind: "look", stage: 6 }, "A2", "id-00002", at));
		expect(after.units[1]?.current).toMatchObject({ stage: 6, day: 6 });
		expect(after.units[0]?.current).toBeNull();
		expect(before.units[1]?.current).toBeNull();
		const scored = painted(before, sent({ kind: "score", score: 4 }, "A1", "id-00003", at));
		expect(scored.units[0]).toMatchObject({ current: null, score: { score: 4 } });
	});
});

describe("counts", () => {
	const before = seen({ kind: "count", struck: 4, lost: 1 });

	it("start where they stood", () => {
		expect(startCounts(unit("A1", { previous: before }))).toMatchObject({
			struck: 4,
			lost: 1,
			removed: 0,
		});
		expect(startCounts(unit("A1"))).toMatchObject({ struck: 0, lost: 0 });
	});

	it("that exceed what was set are asked about", () => {
		expect(countFault({ struck: 9, lost: 2 }, { per_container: 10 }, null)).toContain(
			"only 10 were set",
		);
		expect(countFault({ struck: 1, lost_struck: 2 }, { per_container: 10 }, null)).toContain(
			"ever came up",
		);
	});

	it("that go down are asked about, and pass where they do not", () => {
		expect(countFault({ struck: 3 }, { per_container: 10 }, before)).toContain("fewer than the 4");
		expect(countFault({ struck: 4 }, { per_container: 10 }, before)).toBeNull();
	});
});

describe("the tally", () => {
	it("counts units with something to see, and what is new", () => {
		const units = [
			unit("A1", { current: seen({ stage: 6 }), previous: seen({ stage: 1 }) }),
			unit("A2", { current: seen({ stage: 6 }), previous: seen({ stage: 6 }) }),
			unit("A3", { gone: true }),
			unit("A4"),
		];
		expect(tally(round(units), 6)).toEqual({ due: 3, seen: 2, fresh: 1, isComplete: false });
	});

	it("counts new strikes of a container against the count before", () => {
		const counted = unit("A1", {
			current: seen({ kind: "count", struck: 7 }),
			previous: seen({ kind: "count", struck: 4 }),
		});
		expect(tally(round([counted]), 3)).toMatchObject({ fresh: 3, isComplete: true });
	});
});

describe("the code on a label", () => {
	const unit = (code: string, label: string | null) => ({ cell: { code, label } }) as RoundUnit;
	const units = [unit("A1", "K4PX"), unit("A2", "7JDW"), unit("2-B3", null)];
	it.each([
		["7jdw ", 1],
		["A1", 0],
		["2-b3", 2],
		["", -1],
		["ZZZZ", -1],
	])("%s leads to its unit", (code, at) => {
		expect(atCode(units, code)).toBe(at);
	});
});
