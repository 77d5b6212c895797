import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Reference, Round, RoundUnit } from "@/api/client";
import { button, clearAway, serverThat, show, startFresh } from "@/testing";
import { EventForm } from "./EventForm";
import type { FormProps } from "./forms";
import { HarmForm } from "./HarmForm";
import { MeasureForm } from "./MeasureForm";
import { NoteForm } from "./NoteForm";
import { PhotoField } from "./PhotoField";

const EVENT = { amount: "", least: 0, most: 1000, is_whole: false, by_hand: true };
const REFERENCE = {
	events: [
		{ ...EVENT, code: "watered", name: "Watered", amount: "mL" },
		{ ...EVENT, code: "moved", name: "Moved", by_hand: false },
		{ ...EVENT, code: "follow_up", name: "To do later", is_whole: true },
	],
	harms: [
		{ name: "burn", label: "Burnt tips", drawing: "" },
		{ name: "spots", label: "Leaf spots", drawing: "" },
	],
	harm_words: ["none", "slight", "clear", "severe"],
	traits: [
		{
			name: "height",
			label: "Height",
			unit: "cm",
			most: 200,
			is_whole: false,
			units: [
				{ name: "cm", factor: 1 },
				{ name: "in", factor: 2.54 },
			],
		},
		{ name: "leaves", label: "Leaves", unit: "", most: 500, is_whole: true, units: [] },
	],
} as unknown as Reference;

const unit = (code: string, col: number) =>
	({ id: code, cell: { code, treatment: 0 }, tray: 0, row: 0, col }) as unknown as RoundUnit;
const UNITS = [unit("A1", 0), unit("A2", 1)] as const;

function props(over: Partial<FormProps> = {}) {
	const write = vi.fn(async () => true);
	const onTap = vi.fn();
	const given = {
		reference: REFERENCE,
		round: { units: UNITS } as unknown as Round,
		unit: UNITS[0],
		scope: "unit",
		trialId: "t",
		draft: "t",
		write,
		onTap,
		...over,
	} as unknown as FormProps;
	return { given, write, onTap };
}

const choose = (label: string, value: string) =>
	fireEvent.change(screen.getByLabelText(label), { target: { value } });

beforeEach(startFresh);
afterEach(clearAway);

describe("an event", () => {
	it("is kept with its amount and words", async () => {
		const { given, write } = props();
		show(<EventForm {...given} />);
		choose("Amount, mL (optional)", "250");
		choose("In your words (may be left open)", "from below");
		fireEvent.click(button("Save event"));
		await waitFor(() => expect(write).toHaveBeenCalledOnce());
		expect(write).toHaveBeenCalledWith({
			kind: "event",
			what: "watered",
			values: { amount: 250 },
			text: "from below",
		});
		expect(screen.getByLabelText<HTMLInputElement>(/^Amount/).value).toBe("");
	});

	it("moves one unit only, to a place that is named, and says who stands there", async () => {
		const { given, write } = props();
		show(<EventForm {...given} />);
		choose("What happened", "moved");
		expect(button("Save event").disabled).toBe(true);
		screen.getByText("Write where it goes, such as C4.");
		choose("New position, such as C4", "Z99");
		screen.getByText("There is no such place: write a row and a column, such as C4.");
		expect(button("Save event").disabled).toBe(true);
		choose("New position, such as C4", "a2");
		screen.getByText("A2 stands there: the two change places.");
		fireEvent.click(button("Save event"));
		await waitFor(() => expect(write).toHaveBeenCalledOnce());
		expect(write.mock.calls[0]).toMatchObject([{ values: { tray: 0, row: 0, col: 1 } }]);
	});

	it("is not moved for a whole tray, and a thing to do needs words", () => {
		const { given } = props({ scope: "tray" });
		show(<EventForm {...given} />);
		choose("What happened", "moved");
		screen.getByText("Only one unit is moved at a time: choose A1.");
		choose("What happened", "follow_up");
		screen.getByText("Say in your words what it was.");
	});
});

describe("signs of harm", () => {
	it("are kept by grade once one is given", async () => {
		const { given, write } = props();
		show(<HarmForm {...given} />);
		expect(button("Save event").disabled).toBe(true);
		fireEvent.click(screen.getAllByRole("button", { name: /2 clear/ })[0] as HTMLElement);
		fireEvent.click(button("Save event"));
		await waitFor(() => expect(write).toHaveBeenCalledOnce());
		expect(write.mock.calls[0]).toMatchObject([{ kind: "measure", values: { burn: 2 } }]);
		await waitFor(() => expect(button("Save event").disabled).toBe(true));
	});
});

describe("measures", () => {
	it("are kept in one unit, whichever the grower reads them in", async () => {
		const { given, write } = props();
		show(<MeasureForm {...given} />);
		expect(button("Save measures").disabled).toBe(true);
		choose("Unit of height", "in");
		choose("Height", "10");
		choose("Leaves", "7");
		fireEvent.click(button("Save measures"));
		await waitFor(() => expect(write).toHaveBeenCalledOnce());
		expect(write.mock.calls[0]).toMatchObject([{ values: { height: 25.4, leaves: 7 } }]);
		expect(JSON.parse(localStorage.getItem("racecard.units") ?? "")).toEqual({ height: "in" });
	});
});

describe("a note", () => {
	it("is a note until its grower says that it is a look", async () => {
		const heard = [{ says: "A1 rooted", unit_id: "A1", stage: 6, loss: null }];
		const asked = serverThat({ "POST /api/trials/t/heard": heard });
		const { given, write, onTap } = props();
		show(<NoteForm {...given} />);
		expect(button("Save note").disabled).toBe(true);
		choose("Note (type, or use dictation)", "roots out of the bottom");
		fireEvent.click(button("Save note"));
		await screen.findByText("A1 rooted");
		expect(write).toHaveBeenCalledOnce();
		expect(asked[0]?.body).toEqual({ text: "roots out of the bottom", unit_id: "A1" });
		expect(onTap).not.toHaveBeenCalled();
		fireEvent.click(button("Save as look"));
		expect(onTap).toHaveBeenCalledWith("A1", { kind: "look", stage: 6, loss: undefined });
		expect(screen.queryByText("A1 rooted")).toBeNull();
	});
});

describe("what this device cannot keep", () => {
	const refusing = () => {
		const write = vi.fn(async () => false);
		return { write, given: props({ write }).given };
	};
	const asked = (write: () => void) => waitFor(() => expect(write).toHaveBeenCalledOnce());

	it("stays in the form of an event", async () => {
		const { given, write } = refusing();
		show(<EventForm {...given} />);
		choose("In your words (may be left open)", "from below");
		fireEvent.click(button("Save event"));
		await asked(write);
		await screen.findByDisplayValue("from below");
	});

	it("stays in the form of a note, and is not read for looks", async () => {
		const heard = serverThat({});
		const { given, write } = refusing();
		show(<NoteForm {...given} />);
		choose("Note (type, or use dictation)", "roots out of the bottom");
		fireEvent.click(button("Save note"));
		await asked(write);
		await screen.findByDisplayValue("roots out of the bottom");
		expect(heard).toEqual([]);
	});

	it("stays among measures and signs of harm", async () => {
		const measured = refusing();
		show(<MeasureForm {...measured.given} />);
		choose("Leaves", "7");
		fireEvent.click(button("Save measures"));
		await asked(measured.write);
		await screen.findByDisplayValue("7");
		const harmed = refusing();
		show(<HarmForm {...harmed.given} />);
		fireEvent.click(screen.getAllByRole("button", { name: /2 clear/ })[0] as HTMLElement);
		fireEvent.click(button("Save event"));
		await asked(harmed.write);
		expect(screen.getAllByRole("button", { pressed: true })).toHaveLength(1);
	});

	it("stays as a photo with its comment; what is kept of one plant can be measured", async () => {
		vi.stubGlobal("URL", { createObjectURL: () => "blob:x", revokeObjectURL() {} });
		const onKeep = vi.fn(async (): Promise<string | null> => null);
		show(<PhotoField label="A1" canMeasure onKeep={onKeep} onWrite={vi.fn()} />);
		const picture = new File(["x"], "a.jpg", { type: "image/jpeg" });
		const field = document.querySelector("input[type=file]") as HTMLInputElement;
		fireEvent.change(field, { target: { files: [picture] } });
		choose("Comment (optional)", "white tips");
		fireEvent.click(button("Save photo"));
		await asked(onKeep);
		await screen.findByDisplayValue("white tips");
		onKeep.mockResolvedValue("p1");
		fireEvent.click(button("Save photo"));
		await screen.findByText("Measure on this photo");
	});
});
