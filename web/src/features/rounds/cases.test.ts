import { describe, expect, it } from "vitest";
import type { Observation, RoundUnit } from "@/api/client";
import { lengthsOf, type Point, rootsIn } from "@/core/traces";
import cases from "../../../../tests/shared/cases.json";
import { asObservation, countFault, isPlace, newStrikes, proposedScore, sent } from "./round";

/** The server's half is `tests/core/test_shared_cases.py`. */
describe("rules that server and phone compute alike", () => {
	const { needs, reached_mm, cases: scores } = cases.proposed_score;

	it.each(scores)("propose a score for %o", ({ parts, score }) => {
		const known = Object.fromEntries(Object.entries(parts).filter(([, v]) => v !== undefined));
		expect(proposedScore(known as Record<string, number>, needs as never, reached_mm)).toBe(score);
	});

	it.each(cases.counts)(
		"refuse counts that cannot be true: %o",
		({ sown, possible, ...counts }) => {
			expect(countFault(counts, sown, null) === null).toBe(possible);
		},
	);

	it.each(cases.also_counted)("hold stages of one container together: %o", (c) => {
		const stages = [c.endpoint, ...c.also]
			.sort()
			.map((code) => ({ code, name: `${code}`, isEndpoint: code === c.endpoint }));
		const counts = { struck: c.struck, parts: c.parts as unknown as Record<string, number> };
		expect(countFault(counts, c.held, null, stages) === null).toBe(c.possible);
	});

	it.each(cases.newly_struck)("count new strikes: %o", ({ endpoint, before, now, fresh }) => {
		const seen = (fields: object | null) =>
			fields &&
			({
				...asObservation(sent({ kind: "look" }, "u", "id-00001", "2026-05-01T12:00:00Z"), 3),
				...fields,
			} as Observation);
		const unit = { previous: seen(before), current: seen(now) } as RoundUnit;
		expect(newStrikes(unit, endpoint)).toBe(fresh);
	});

	it.each(cases.traced)("measure lines traced on a photo: %o", (c) => {
		const lengths = lengthsOf({
			scale: c.scale as unknown as Point[],
			known_mm: c.known_mm,
			lines: c.lines as unknown as Point[][],
		});
		expect(lengths).toEqual(c.lengths.map((x) => expect.closeTo(x, 4)));
		expect(rootsIn(lengths ?? [])).toBe(c.roots);
	});

	it.each(cases.places)("know where a unit can be moved to: %o", ({ place, last_tray, is }) => {
		const [tray = 0, row = 0, col = 0] = place;
		expect(isPlace(tray, row, col, last_tray)).toBe(is);
	});
});
