import { fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { button, clearAway, show, startFresh } from "@/testing";
import { ProposalCard } from "./ProposalCard";
import type { Proposal } from "./start";

const PROPOSAL = {
	standing: "best",
	decidable: true,
	title: "Single jars",
	chip: "shows it 83 times in 100",
	sets: "40 jars of 1",
	shows: "Would show a difference of 30 points.",
	trade: "More jars to keep.",
	bench: [0, 1, 1, 0],
	containers: 40,
	per_container: 1,
	plan: { treatments: ["Water", "IBA"].map((name) => ({ name, silk: "plain" })) },
} as unknown as Proposal;
const proposed = (over: object, isOld = false) => {
	const use = vi.fn();
	const proposal = { ...PROPOSAL, ...over };
	show(<ProposalCard proposal={proposal} container="jar" use={use} isBusy={false} isOld={isOld} />);
	return use;
};

beforeEach(startFresh);
afterEach(clearAway);

it("a proposal says what it can show, and why it is the best", () => {
	const use = proposed({});
	screen.getByText("and 36 more jars");
	screen.getByText("Why this one?");
	fireEvent.click(button("Use this plan"));
	expect(use).toHaveBeenCalledOnce();
});

it("a proposal that cannot decide is used only anyway", () => {
	proposed({ decidable: false, standing: "other", containers: 4 });
	button("Use it anyway");
	expect(screen.queryByText("Why this one?")).toBeNull();
	expect(screen.queryByText(/more jars$/)).toBeNull();
});

it("a proposal for what was written before cannot be taken", () => {
	const use = proposed({}, true);
	fireEvent.click(button("Use this plan"));
	expect(use).not.toHaveBeenCalled();
});
