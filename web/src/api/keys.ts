import type { Query, QueryClient } from "@tanstack/react-query";

/** What the server tells that belongs to no one trial. */
type Told =
	| "base-rates"
	| "check"
	| "clock"
	| "code"
	| "defaults"
	| "designs"
	| "drawings"
	| "dry-job"
	| "dry-plans"
	| "dry-runs"
	| "dry-season"
	| "form-book"
	| "handbook"
	| "mix"
	| "mixing"
	| "plant-book"
	| "race"
	| "reference"
	| "register"
	| "series"
	| "shed"
	| "sittings"
	| "table"
	| "table-work"
	| "tables"
	| "templates"
	| "today"
	| "treatment-book"
	| "trials"
	| "usual";

/** What it tells of one trial; `whole` is the trial itself, with its course and bench. */
type OfTrial =
	| "agreement"
	| "baseline"
	| "blind-lanes"
	| "compare"
	| "conclusion"
	| "conditions"
	| "contrasts"
	| "finish"
	| "heat"
	| "invite"
	| "labels"
	| "log"
	| "look-sheet"
	| "looks"
	| "milestone"
	| "photos"
	| "prepare"
	| "returns"
	| "round"
	| "runs"
	| "unit-log"
	| "unit-story"
	| "whole"
	| "worth";

/** Where an answer is kept on this page: by what it is, and what it was asked with. */
export function key(told: Told, ...asked: readonly unknown[]) {
	return [told, ...asked] as const;
}

/** Where an answer about one trial is kept. */
export function ofTrial(id: string | undefined, told: OfTrial, ...asked: readonly unknown[]) {
	return ["of-trial", id, told, ...asked] as const;
}

const LISTS = [
	"trials",
	"today",
	"tables",
	"form-book",
	"plant-book",
	"treatment-book",
	"dry-plans",
	"register",
] as const satisfies readonly Told[];

/** Something was made, brought in or thrown away: the lists are old. */
export async function listsChanged(queries: QueryClient) {
	await Promise.all(LISTS.map((list) => queries.invalidateQueries({ queryKey: key(list) })));
}

/**
 * One trial was changed: what was told of it is old, and so are the lists it stands in.
 *
 * @param kept parts that the change itself has brought up to date.
 */
export async function trialChanged(
	queries: QueryClient,
	id: string,
	kept: readonly OfTrial[] = [],
) {
	const isOld = (told: unknown) => !kept.some((part) => part === told);
	const parts = { queryKey: ["of-trial", id], predicate: (q: Query) => isOld(q.queryKey[2]) };
	// an answer on its way that would be the first tells what was before, and is not asked for again by itself
	const isFirst = (q: Query) => isOld(q.queryKey[2]) && q.state.data === undefined;
	await queries.cancelQueries({ ...parts, predicate: isFirst });
	await Promise.all([queries.invalidateQueries(parts), listsChanged(queries)]);
}
