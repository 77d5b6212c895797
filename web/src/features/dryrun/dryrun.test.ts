import { describe, expect, it } from "vitest";
import {
	designSays,
	draftOf,
	NO_SCORE,
	type Proposal,
	parts,
	requestOf,
	scored,
	scoreSays,
	type Tally,
} from "./dryrun";

const PLAN = {
	trial_id: "t",
	units: 16,
	blocks: 4,
	per_container: 1,
	truths: [],
} as unknown as Proposal;

describe("a dry run", () => {
	it("asks only for what differs from the plan", () => {
		const draft = draftOf(PLAN);
		expect(requestOf(draft, PLAN).changes).toEqual({
			units: null,
			blocks: null,
			per_container: null,
		});
		expect(requestOf({ ...draft, units: 24 }, PLAN).changes?.units).toBe(24);
	});
	it("splits its seasons into parts that add up", () => {
		const tally = { right: 120, likely: 30, silent: 48, wrong: 2 } as Tally;
		const shares = parts(tally, 200).map((p) => p.share);
		expect(shares.reduce((a, b) => a + b, 0)).toBeCloseTo(1);
		expect(parts(tally, 0).every((p) => p.share === 0)).toBe(true);
	});
	it("tells its design", () => {
		const design = { names: ["a", "b"], units: 5, blocks: 1, per_container: 10 };
		expect(designSays({ ...design, question: "", silks: [], reference: 0 })).toBe(
			"2 × 5, 10 per container",
		);
	});
});

describe("reading races", () => {
	it("keeps real and lucky ones apart", () => {
		let score = scored(NO_SCORE, { real: true, right: true });
		score = scored(score, { real: false, right: false });
		expect(scoreSays(score)).toBe(
			"1 of 2 right: 1 of 1 real differences recognised, 0 of 1 chance ones recognised.",
		);
		expect(scoreSays(NO_SCORE)).toBe("No answers yet");
	});
});
