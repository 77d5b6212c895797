import type { EntrySent, Sent } from "./client";

/** A tap without anything said yet: what it leaves open. */
export const BLANK_TAP = {
	removed: 0,
	shoot: false,
	wilted: false,
	as_row: false,
	parts: {},
	device: "",
	who: "",
	given: false,
};

/** A line of the diary without anything said yet, of the whole trial. */
export const BLANK_ENTRY = {
	scope: "trial" as const,
	target: "",
	what: "",
	values: {},
	text: "",
	device: "",
	who: "",
	given: false,
};

/** A tap that takes another back. */
export function voidTap(unitId: string, corrects: string, id: string, seenAt: string): Sent {
	return { ...BLANK_TAP, kind: "void", id, unit_id: unitId, seen_at: seenAt, corrects };
}

/** An entry that takes another back. */
export function voidEntry(corrects: string, id: string, seenAt: string): EntrySent {
	return { ...BLANK_ENTRY, kind: "void", id, seen_at: seenAt, corrects };
}
