import { describe, expect, it } from "vitest";
import type { Observation, Round, RoundUnit, Sent, StageScale } from "@/api/client";
import { voidTap } from "@/api/items";
import type { Kept } from "@/api/outbox";
import {
	asObservation,
	atCode,
	backFrom,
	countFault,
	keyOf,
	nextOpen,
	orderOf,
	painted,
	placeOf,
	proposedScore,
	restOfRow,
	sameAsLast,
	sent,
	shortOf,
	standAlike,
	startCounts,
	step,
	tally,
	tapOf,
	traysOf,
} from "./round";
import { codeIn } from "./ScanBox";

const LADDER = {
	kind: "cutting",
	outcome: "usual",
	stages: [
		{
			code: 1,
			cause: null,
			name: "No change",
			look_for: "",
			key: "1",
			drawing: "settled",
		},
		{ code: 6, cause: null, name: "Rooted", look_for: "", key: "6", drawing: "rooted" },
	],
	exits: [
		{ code: null, cause: "rotted", name: "Rotted", look_for: "", key: "8", drawing: "rotted" },
		{ code: null, cause: "removed", name: "Removed", look_for: "", key: "x", drawing: "removed" },
	],
	endpoints: [6],
	default_endpoint: 6,
} satisfies StageScale;

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
	const blank = { previous: null, current: null, score: null, gone: false, held: 1, lift: false };
	const others = { second: false, second_score: null, conflict: null };
	return { id: code, cell, tray: 0, row, col, ...blank, ...others, ...fields };
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
		shuffled: units.map((_, i) => i).reverse(),
		missed_says: "",
		seq: 2000,
		entry_seq: 0,
		entries: [],
	};
}

/** A tap as the outbox holds it; `acked` null while it waits. */
function kept(item: Sent, acked: number | null = null, day = 6): Kept {
	return { kind: "look", item, trial: "t", day, at: 0, acked };
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

describe("the order of a round", () => {
	const units = [unit("A1"), unit("A2"), unit("B1"), unit("B2")];

	it("goes row by row, back and forth, or as drawn", () => {
		const r = round(units);
		expect(orderOf(r, "rows")).toEqual([0, 1, 2, 3]);
		expect(orderOf(r, "snake")).toEqual([0, 1, 3, 2]);
		expect(orderOf(r, "shuffled")).toEqual([3, 2, 1, 0]);
	});

	it("follows a pot to where it was moved", () => {
		const moved = [{ ...unit("A1"), row: 1, col: 5 }, unit("A2"), unit("B1")];
		expect(orderOf(round(moved), "rows")).toEqual([1, 2, 0]);
		expect(restOfRow(moved, 0).map((u) => u.id)).toEqual(["A1", "B1"]);
	});

	it("leads on and back along itself", () => {
		expect(nextOpen(units, 1, () => true, [0, 1, 3, 2])).toBe(3);
		expect(backFrom([0, 1, 3, 2], 3)).toBe(1);
		expect(backFrom([0, 1, 3, 2], 0)).toBe(0);
	});

	it("fills only what was not looked at, in the one row", () => {
		const some = [
			unit("A1", { current: seen() }),
			unit("A2"),
			unit("A3", { gone: true }),
			unit("B1"),
		];
		expect(restOfRow(some, 0).map((u) => u.id)).toEqual(["A2"]);
	});

	it("names the arms that are short, where they may be named", () => {
		const of = (code: string, treatment: number | null) => {
			const u = unit(code);
			return { ...u, cell: { ...u.cell, treatment } };
		};
		const arms = [{ name: "Untreated" }, { name: "IBA" }];
		const open = shortOf(round([of("A1", 0), of("A2", 1), of("A3", 1)]), arms);
		expect(open).toEqual({ open: ["A1", "A2", "A3"], arms: ["Untreated (1)", "IBA (2)"] });
		expect(shortOf(round([of("A1", null)]), arms).arms).toEqual([]);
	});
});

describe("the bands of a large bench", () => {
	const units = Array.from({ length: 36 }, (_, i) => ({
		...unit(`u${i}`),
		tray: i < 24 ? 0 : 1,
		row: Math.floor((i % 24) / 3),
		col: 2 - (i % 3),
	}));

	it("hold each unit once, row by row from the left", () => {
		const bands = traysOf(units).flatMap((t) => t.bands);
		expect(bands.map((b) => b.rows.length)).toEqual([3, 3, 2, 3, 1]);
		expect(bands[0]?.rows.slice(0, 2)).toEqual([
			[2, 1, 0],
			[5, 4, 3],
		]);
		expect(bands.flatMap((b) => [...b.at]).sort((a, b) => a - b)).toEqual(units.map((_, i) => i));
	});

	it("need cutting anew only where a unit was moved", () => {
		const tapped = units.map((u, i) => (i === 4 ? { ...u, current: seen() } : u));
		expect(standAlike(units, tapped)).toBe(true);
		expect(
			standAlike(
				units,
				units.map((u, i) => (i === 4 ? { ...u, col: 9 } : u)),
			),
		).toBe(false);
	});
});

describe("the score of a lift", () => {
	const needs: Record<string, number>[] = [
		{},
		{ roots: 1, quarters: 1 },
		{ roots: 2, quarters: 1, longest: 20, hold: 1 },
		{ roots: 4, quarters: 2, longest: 30, branching: 1, hold: 2 },
	];

	it("is the highest whose every known part is met", () => {
		expect(proposedScore({ roots: 0 }, needs, 50)).toBe(0);
		expect(proposedScore({ roots: 6 }, needs, 50)).toBeNull();
		expect(proposedScore({ roots: 6, quarters: 1 }, needs, 50)).toBe(2);
		expect(proposedScore({ roots: 6, quarters: 2, longest: 20 }, needs, 50)).toBe(2);
		expect(proposedScore({ roots: 6, quarters: 2, longest: 20, wall: 1 }, needs, 50)).toBe(3);
		expect(proposedScore({ roots: 1, quarters: 0 }, needs, 50)).toBe(0);
	});
});

describe("where a pot is moved to", () => {
	it("is read as it is written on the bench", () => {
		const r = { units: [unit("A1")] };
		expect(placeOf("c4", r)).toEqual({ tray: 0, row: 2, col: 3 });
		expect(placeOf("2-AA10", r)).toEqual({ tray: 1, row: 26, col: 9 });
		expect(placeOf("C0", r)).toBeNull();
		expect(placeOf("9-A1", r)).toBeNull();
		expect(placeOf("the sill", r)).toBeNull();
	});

	it("is the code of a label's address", () => {
		expect(codeIn("http://127.0.0.1:8620/u/1a2b3c4d/K7Q")).toBe("K7Q");
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
		expect(keyOf(seen({ stage: null, removed: 1 }), LADDER)?.name).toBe("Removed");
		expect(keyOf(null, LADDER)).toBeUndefined();
	});

	it("paint on their own unit and on no other", () => {
		const before = round([unit("A1"), unit("A2")]);
		const look = kept(sent({ kind: "look", stage: 6 }, "A2", "id-00002", at));
		const after = painted(before, [look]);
		expect(after.units[1]?.current).toMatchObject({ stage: 6, day: 6 });
		expect(after.units[0]?.current).toBeNull();
		expect(before.units[1]?.current).toBeNull();
		const score = kept(sent({ kind: "score", score: 4 }, "A1", "id-00003", at));
		expect(painted(before, [score]).units[0]).toMatchObject({
			current: null,
			score: { score: 4 },
		});
	});

	it("of another round or trial paint nothing here", () => {
		const before = round([unit("A1")]);
		const item = sent({ kind: "look", stage: 6 }, "A1", "id-00002", at);
		expect(painted(before, [kept(item, null, 9)]).units[0]?.current).toBeNull();
		expect(painted(before, [{ ...kept(item), trial: "other" }])).toBe(before);
	});

	it("that the shed had before it told the round are not painted again", () => {
		const before = round([unit("A1", { current: seen({ stage: 7 }) })]);
		const item = sent({ kind: "look", stage: 3 }, "A1", "id-00002", at);
		expect(painted(before, [kept(item, 1000)]).units[0]?.current?.stage).toBe(7);
		expect(painted(before, [kept(item, 3000)]).units[0]?.current?.stage).toBe(3);
	});

	it("taken back show what stood before, one after the other", () => {
		const before = round([unit("A1")]);
		const taps = [
			kept(sent({ kind: "look", stage: 3 }, "A1", "id-00001", at)),
			kept(sent({ kind: "look", stage: 6 }, "A1", "id-00002", at)),
		];
		const once = [...taps, kept(voidTap("A1", "id-00002", "id-00003", at))];
		expect(painted(before, once).units[0]?.current?.stage).toBe(3);
		const twice = [...once, kept(voidTap("A1", "id-00001", "id-00004", at))];
		expect(painted(before, twice).units[0]?.current).toBeNull();
	});

	it("settle a difference between two phones as soon as it is decided", () => {
		const conflict = seen({ id: "other-01", stage: 6 });
		const before = round([unit("A1", { current: seen({ stage: 3 }), conflict })]);
		const back = kept(voidTap("A1", "other-01", "id-00003", at));
		expect(painted(before, [back]).units[0]).toMatchObject({
			conflict: null,
			current: { stage: 3 },
		});
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
		expect(countFault({ struck: 9, lost: 2 }, 10, null)?.says).toContain(
			"only 10 in this container",
		);
		expect(countFault({ struck: 1, lost_struck: 2 }, 10, null)).toMatchObject({
			mayStand: false,
		});
	});

	it("that go down are asked about, and pass where they do not", () => {
		const fault = countFault({ struck: 3 }, 10, before);
		expect(fault).toMatchObject({ mayStand: true });
		expect(fault?.says).toContain("Fewer than the 4");
		expect(countFault({ struck: 4 }, 10, before)).toBeNull();
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
