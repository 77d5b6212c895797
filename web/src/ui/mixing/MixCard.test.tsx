import { MantineProvider } from "@mantine/core";
import { fireEvent, render as rendered, screen } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { MixCard as Card, MixQuestion } from "@/api/client";
import { button, clearAway, show, startFresh } from "@/testing";
import { CardActions } from "./CardActions";
import { MixCard } from "./MixCard";

const render = (node: ReactNode) => rendered(node, { wrapper: MantineProvider });

const SPOON: MixQuestion = {
	key: "spoon",
	asks: "Whose spoon or cup?",
	must: true,
	usual: "",
	chosen: null,
	of_line: false,
	options: [
		{ value: "metric", label: "metric, 15 mL", gives: "To measure: 3.75 mL" },
		{ value: "au", label: "Australian, 20 mL", gives: "To measure: 5 mL" },
	],
};

function card(over: Partial<Card> = {}): Card {
	return {
		key: "rate",
		title: "Amount per litre",
		fields: {},
		understood: ["Amount: 1 tbsp", "In: 250 mL"],
		amounts: [
			{ what: "To measure", value: 3.75, unit: "mL", shown: "3.75 mL" },
			{ what: "Make up to", value: 250, unit: "mL", shown: "250 mL" },
		],
		says: ["1 tbsp per litre is 15 mL/L."],
		flags: [],
		questions: [],
		cautions: [],
		sources: [],
		text: "",
		is_open: false,
		is_refused: false,
		line: "",
		choices: {},
		tokens: [],
		...over,
	};
}

afterEach(() => {
	document.body.innerHTML = "";
});

describe("a card", () => {
	it("shows the amounts, a cylinder of the share, and the sum in words", () => {
		render(<MixCard card={card()} onAnswer={vi.fn()} />);
		expect(screen.getByText("3.75 mL")).toBeTruthy();
		expect(screen.getByRole("img", { name: "3.75 mL of 250 mL" })).toBeTruthy();
		expect(screen.getByText("1 tbsp per litre is 15 mL/L.")).toBeTruthy();
	});

	it("asks what must be said, with what each answer leads to", () => {
		const onAnswer = vi.fn();
		render(
			<MixCard
				card={card({ questions: [SPOON], amounts: [], is_open: true })}
				onAnswer={onAnswer}
			/>,
		);
		fireEvent.click(screen.getByRole("button", { name: /Australian, 20 mL.*5 mL/ }));
		expect(onAnswer).toHaveBeenCalledWith("spoon", "au");
		expect(screen.queryByText("3.75 mL")).toBeNull();
	});

	it("says a remembered answer, and lets it be changed or forgotten", () => {
		const onAnswer = vi.fn();
		const remembered = { ...SPOON, must: false, chosen: "metric" };
		render(<MixCard card={card({ questions: [remembered] })} onAnswer={onAnswer} />);
		expect(screen.getByText("(saved; change)", { exact: false })).toBeTruthy();
		fireEvent.click(screen.getByText("Ask every time"));
		expect(onAnswer).toHaveBeenCalledWith("spoon", null);
	});

	it("marks the usual reading as one, and offers no forgetting of what was never chosen", () => {
		const usual = { ...SPOON, must: false, usual: "metric" };
		render(<MixCard card={card({ questions: [usual] })} onAnswer={vi.fn()} />);
		expect(screen.getByText("(usual; change)", { exact: false })).toBeTruthy();
		expect(screen.queryByText("Ask every time")).toBeNull();
		const pressed = screen.getAllByRole("button", { hidden: true, pressed: true });
		expect(pressed.map((b) => b.textContent)).toEqual(["metric, 15 mLTo measure: 3.75 mL"]);
	});

	it("tells how grave each flag is in a word, not by colour alone", () => {
		const flags: Card["flags"] = [
			{ code: "a", gravity: "note", says: "It is below the usual." },
			{ code: "b", gravity: "warn", says: "It burns." },
			{ code: "c", gravity: "refuse", says: "Check it." },
		];
		render(<MixCard card={card({ flags })} onAnswer={vi.fn()} />);
		const words = screen.getAllByText(/^(Note|Mind|Stop):$/).map((w) => w.textContent);
		expect(words).toEqual(["Note:", "Mind:", "Stop:"]);
	});

	it("shows cautions only where there are any", () => {
		const { rerender } = render(<MixCard card={card()} onAnswer={vi.fn()} />);
		expect(screen.queryByRole("list", { name: "Cautions" })).toBeNull();
		const cautions = [{ code: "alcohol", says: "No flame." }];
		rerender(<MixCard card={card({ cautions })} onAnswer={vi.fn()} />);
		expect(screen.getByText("No flame.")).toBeTruthy();
	});

	it("draws no cylinder where nothing is made up to a volume", () => {
		const amounts = [{ what: "IBA to weigh", value: 0.3, unit: "g", shown: "300 mg" }];
		render(<MixCard card={card({ amounts })} onAnswer={vi.fn()} />);
		expect(screen.queryByRole("img")).toBeNull();
	});
});

describe("the text of a card", () => {
	it("is copied, or the browser is said not to allow it", async () => {
		startFresh();
		const writeText = vi.fn(async () => {});
		vi.stubGlobal("navigator", { clipboard: { writeText } });
		show(<CardActions card={card({ text: "3.75 mL" })} />);
		fireEvent.click(button("Copy as text"));
		await screen.findByText("Copied");
		expect(writeText).toHaveBeenCalledWith("3.75 mL");
		vi.stubGlobal("navigator", {}); // an address without HTTPS has no clipboard
		fireEvent.click(button("Copied"));
		expect((await screen.findByRole("alert")).textContent).toContain("copy it yourself");
		clearAway();
	});
});
