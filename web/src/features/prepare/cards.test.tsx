import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Prepare, Trial } from "@/api/client";
import { button, clearAway, last, serverThat, show, startFresh } from "@/testing";
import { LabelsCard } from "./LabelsCard";
import { OrderCard } from "./OrderCard";

const TRIAL = {
	id: "t",
	plan: { blind: true, treatments: [{ name: "IBA", silk: "hoops" }] },
} as unknown as Trial;

beforeEach(startFresh);
afterEach(clearAway);

describe("labels", () => {
	const LABELS = {
		labels: ["7JDW", "2KPA"],
		sheets: [
			{ key: "a4_65", name: "65 on A4", places: 65 },
			{ key: "a4_8", name: "8 on A4", places: 8 },
		],
	};
	const path = "/api/trials/t/labels";
	const sheets = () => screen.getByRole("link", { name: "Print sheets (PDF)" });

	it("begin where the sheet is still whole, and never past its end", async () => {
		serverThat({ [`GET ${path}`]: LABELS });
		show(<LabelsCard trial={TRIAL} />);
		await screen.findByText("2 labels, blind codes");
		fireEvent.change(screen.getByLabelText("Labels already used"), { target: { value: "12" } });
		expect(sheets().getAttribute("href")).toContain("sheet=a4_65&trays=false&skip=12");
		fireEvent.change(screen.getByLabelText("Sheet"), { target: { value: "a4_8" } });
		expect(sheets().getAttribute("href")).toContain("sheet=a4_8&trays=false&skip=7");
		fireEvent.click(screen.getByRole("radio", { name: "trays" }));
		expect(sheets().getAttribute("href")).toContain("trays=true");
	});

	it("wait for a new roll where the printer has none", async () => {
		const asked = serverThat({
			[`GET ${path}`]: LABELS,
			[`POST ${path}/print`]: 409,
			"POST /api/printer/roll": {},
		});
		show(<LabelsCard trial={TRIAL} />);
		fireEvent.click(button("Send to label printer (simulated)"));
		await screen.findByText("The server refused.");
		fireEvent.click(button("Load a new roll"));
		await waitFor(() => expect(screen.queryByText("The server refused.")).toBeNull());
		expect(last(asked, "POST")?.path).toBe("/api/printer/roll");
	});
});

describe("the order of work", () => {
	it("remembers on this device what was ticked", () => {
		const step = (key: string, says: string) => ({ key, says, why: "", treatment: null });
		const found = {
			order: [step("fill", "Fill the trays"), step("mix", "Mix the dips")],
			cautions: [{ code: "gloves", says: "Wear gloves." }],
		} as unknown as Prepare;
		const { unmount } = show(<OrderCard trial={TRIAL} found={found} />);
		screen.getByText("0 of 2 done");
		fireEvent.click(screen.getByRole("checkbox", { name: "Fill the trays" }));
		screen.getByText("1 of 2 done");
		screen.getByText("Wear gloves.");
		unmount();
		show(<OrderCard trial={TRIAL} found={found} />);
		expect(screen.getByRole("checkbox", { name: "Fill the trays" })).toHaveProperty(
			"checked",
			true,
		);
		fireEvent.click(screen.getByRole("checkbox", { name: "Fill the trays" }));
		screen.getByText("0 of 2 done");
	});
});
