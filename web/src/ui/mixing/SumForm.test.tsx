import { fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ApiProblem, type MixSum } from "@/api/client";
import { clearAway, show, startFresh } from "@/testing";
import { filled, SumForm, startOf } from "./SumForm";

const field = (key: string, over: Partial<MixSum["fields"][number]> = {}) => ({
	key,
	label: key,
	start: "",
	choices: [],
	optional: false,
	hint: "",
	...over,
});
const SUM: MixSum = {
	key: "dilute",
	room: "Liquids",
	title: "Dilute a stock",
	answers: "",
	fields: [
		field("volume", { label: "How much is wanted", start: "250 mL" }),
		field("stage", {
			label: "Wood stage",
			optional: true,
			choices: [
				{ value: "", label: "not said" },
				{ value: "softwood", label: "softwood" },
			],
		}),
		field("alcohol", { label: "Alcohol in the stock, %", optional: true }),
		field("counts", { label: "Counts" }),
	],
};

function shown(values: Record<string, string>, problem: ApiProblem | null = null) {
	const onChange = vi.fn();
	show(<SumForm sum={SUM} values={values} onChange={onChange} problem={problem} />);
	return onChange;
}

beforeEach(startFresh);
afterEach(clearAway);

describe("the fields of a sum", () => {
	it("start with the sum's example and send only what is written", () => {
		expect(startOf(SUM)).toEqual({ volume: "250 mL" });
		expect(filled({ volume: "250 mL", alcohol: "  ", stage: "" })).toEqual({ volume: "250 mL" });
	});

	it("change one value and keep the others", () => {
		const onChange = shown({ volume: "250 mL" });
		fireEvent.change(screen.getByLabelText("Wood stage"), { target: { value: "softwood" } });
		expect(onChange).toHaveBeenCalledWith({ volume: "250 mL", stage: "softwood" });
	});

	it("say what is wrong beneath the field it concerns", () => {
		const problem = new ApiProblem(422, "invalid_input", "t", [
			{ pointer: "/fields/volume", detail: "“0 mL” is nothing: give more than 0.", spans: [] },
		]);
		shown({ volume: "0 mL" }, problem);
		const input = screen.getByLabelText("How much is wanted");
		expect(input.getAttribute("aria-invalid")).toBe("true");
		expect(screen.getByText("“0 mL” is nothing: give more than 0.")).toBeTruthy();
	});

	it("mark what may be left out, and give lists of counts room", () => {
		shown({});
		expect(screen.getByLabelText("Alcohol in the stock, % (if any)")).toBeTruthy();
		expect(screen.getByLabelText("Counts").tagName).toBe("TEXTAREA");
	});
});
