import { fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { clearAway, show, startFresh } from "@/testing";
import { draftOf, type Proposal } from "./dryrun";
import { TruthForm } from "./TruthForm";

const PLAN = {
	trial_id: "t",
	names: ["Untreated", "IBA"],
	silks: ["plain", "hoops"],
	truths: [
		{ strike: 0.3, middle_day: 20, loss: 0 },
		{ strike: 0.62, middle_day: 18, loss: 0.1 },
	],
	units: 24,
	blocks: 4,
	per_container: 1,
	scored: false,
} as unknown as Proposal;

beforeEach(startFresh);
afterEach(clearAway);

const shown = (plan: Proposal) => {
	const onChange = vi.fn();
	show(<TruthForm draft={draftOf(plan)} plan={plan} onChange={onChange} />);
	return onChange;
};
const type = (label: string, value: string) =>
	fireEvent.change(screen.getByLabelText(label), { target: { value } });

describe("what is true in a dry run", () => {
	it("is entered in percent for one treatment and kept as a share", () => {
		const onChange = shown(PLAN);
		expect(screen.getByLabelText<HTMLInputElement>("True rate, IBA").value).toBe("62");
		type("True rate, IBA", "55.5");
		const truths = onChange.mock.calls[0]?.[0].truths;
		expect(truths.map((t: { strike: number }) => t.strike)).toEqual([0.3, 0.555]);
		type("Missed looks, %", "10");
		expect(onChange.mock.calls[1]?.[0].nuisance.missed).toBe(0.1);
	});

	it("leaves the draft alone while a field holds no number", () => {
		const onChange = shown(PLAN);
		type("Units per treatment", "2.5");
		type("True rate, IBA", "");
		expect(onChange).not.toHaveBeenCalled();
	});

	it("asks for scores and likeness only where the plan has them", () => {
		shown(PLAN);
		expect(screen.queryByLabelText("Root score, IBA")).toBeNull();
		expect(screen.queryByLabelText("Similarity within containers, %")).toBeNull();
		clearAway();
		startFresh();
		const onChange = shown({ ...PLAN, scored: true, per_container: 10 });
		screen.getByLabelText("Root score, IBA");
		type("Similarity within containers, %", "20");
		const truths = onChange.mock.calls[0]?.[0].truths;
		expect(truths.map((t: { icc: number }) => t.icc)).toEqual([0.2, 0.2]);
	});
});
