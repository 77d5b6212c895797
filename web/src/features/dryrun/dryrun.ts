/** What a dry run asks for, and how its tallies read; no React here. */

import type { Schemas } from "@/api/client";

export type Proposal = Schemas["ProposalOut"];
export type Truth = Schemas["TruthIo"];
export type Nuisance = Schemas["NuisanceIo"];
export type Carried = Schemas["CarriedOut"];
export type Tally = Schemas["TallyOut"];

export interface Draft {
	trialId: string;
	truths: Truth[];
	nuisance: Required<Nuisance>;
	units: number;
	blocks: number;
	perContainer: number;
	seasons: number;
	seed: number;
}

export const NOTHING_WRONG: Required<Nuisance> = {
	block_points: 0,
	missed: 0,
	copied_wrong: 0,
	lifted: 0,
};

/** A draft as the plan proposes it. */
export function draftOf(p: Proposal): Draft {
	return {
		trialId: p.trial_id,
		truths: p.truths,
		nuisance: NOTHING_WRONG,
		units: p.units,
		blocks: p.blocks,
		perContainer: p.per_container,
		seasons: 1000,
		seed: 1,
	};
}

/** The request a draft makes; what is as in the plan is left out. */
export function requestOf(draft: Draft, plan: Proposal): Schemas["DryRunIn"] {
	const changed = <T>(now: T, was: T): T | null => (now === was ? null : now);
	return {
		trial_id: draft.trialId,
		truths: draft.truths,
		nuisance: draft.nuisance,
		changes: {
			units: changed(draft.units, plan.units),
			blocks: changed(draft.blocks, plan.blocks),
			per_container: changed(draft.perContainer, plan.per_container),
		},
		seasons: draft.seasons,
		seed: draft.seed,
	};
}

export interface Part {
	what: "right" | "likely" | "silent" | "wrong";
	share: number;
	words: string;
}

const WORDS = {
	right: "clear and right",
	likely: "likely",
	silent: "left open",
	wrong: "clear but wrong",
} as const;

/** A tally as shares that add up to one, in the order they are drawn. */
export function parts(t: Tally, of: number): Part[] {
	return (["right", "likely", "silent", "wrong"] as const).map((what) => ({
		what,
		share: of > 0 ? t[what] / of : 0,
		words: WORDS[what],
	}));
}

/** How a design reads: 3 × 24, 4 blocks, 10 to a container. */
export function designSays(d: Schemas["DesignOut"]): string {
	const blocks = d.blocks > 1 ? `, ${d.blocks} blocks` : "";
	const each = d.per_container > 1 ? `, ${d.per_container} per container` : "";
	return `${d.names.length} × ${d.units}${blocks}${each}`;
}

export interface Score {
	read: number;
	right: number;
	real: number;
	realRight: number;
}

export const NO_SCORE: Score = { read: 0, right: 0, real: 0, realRight: 0 };

/** The hit rate after one more race was read. */
export function scored(s: Score, was: { real: boolean; right: boolean }): Score {
	return {
		read: s.read + 1,
		right: s.right + Number(was.right),
		real: s.real + Number(was.real),
		realRight: s.realRight + Number(was.real && was.right),
	};
}

/** How well the grower reads, in a sentence. */
export function scoreSays(s: Score): string {
	if (s.read === 0) return "No answers yet";
	const luck = s.read - s.real;
	const luckRight = s.right - s.realRight;
	return `${s.right} of ${s.read} right: ${s.realRight} of ${s.real} real differences recognised, ${luckRight} of ${luck} chance ones recognised.`;
}
