import type { Schemas } from "@/api/client";

export type BegunSent = Schemas["BegunIn"];

/** The answers as they stand on the page; a place holds the number of its treatment, or null. */
export interface Begun {
	question: string;
	plant: string;
	kind: "cutting" | "seed";
	names: string;
	control: number | null;
	on: string;
	per: number | null;
	places: (number | null)[][];
	differ: NonNullable<BegunSent["differ"]>;
}

export const NOTHING_YET: Begun = {
	question: "",
	plant: "",
	kind: "cutting",
	names: "",
	control: 0,
	on: "",
	per: 1,
	places: [],
	differ: [],
};

/** The treatments as they are typed, each once. */
export const namesOf = (names: string): string[] => [
	...new Set(
		names
			.split(",")
			.map((n) => n.trim())
			.filter((n) => n),
	),
];

/** A bench of so many rows and places; what stood there stays where it fits. */
export function sized(places: Begun["places"], rows: number, columns: number): (number | null)[][] {
	return Array.from({ length: rows }, (_, r) =>
		Array.from({ length: columns }, (_, c) => places[r]?.[c] ?? null),
	);
}

/** One row a treatment, each with the same number of containers: how most benches are set by habit. */
export const oneRowEach = (arms: number, each: number): (number | null)[][] =>
	Array.from({ length: arms }, (_, arm) => Array.from({ length: each }, () => arm));

/** The bench with one place changed. */
export const placed = (
	places: Begun["places"],
	row: number,
	column: number,
	arm: number | null,
): Begun["places"] =>
	places.map((line, r) => (r === row ? line.map((was, c) => (c === column ? arm : was)) : line));

/** How many containers of each treatment stand there. */
export const standing = (places: Begun["places"], arms: number): number[] =>
	Array.from({ length: arms }, (_, arm) => places.flat().filter((p) => p === arm).length);

/** The pattern of each treatment: the control is plain, the others take theirs in order. */
export function silksOf(ids: readonly string[], arms: number, control: number | null): string[] {
	const free = [...ids.filter((id) => id !== "plain" && id !== "halves"), "halves"];
	return Array.from({ length: arms }, (_, i) =>
		i === control ? "plain" : (free.shift() ?? "plain"),
	);
}

/** Noon of the day it began, or now where that is today and noon has not come. */
export const momentOf = (on: string, now: Date): string =>
	new Date(Math.min(new Date(`${on}T12:00`).getTime(), now.getTime())).toISOString();
