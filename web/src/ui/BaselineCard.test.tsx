import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Trial } from "@/api/client";
import { button, clearAway, last, serverThat, show, startFresh } from "@/testing";
import { BaselineCard } from "./BaselineCard";

const TRIAL = {
	id: "t",
	plan: { treatments: [{ name: "Untreated", silk: "plain" }] },
} as unknown as Trial;
const TOLD = [
	{ trait: "grade", says: "The arms are alike.", arms: [{ n: 8, mean: 1.25, least: 1, most: 2 }] },
];

beforeEach(startFresh);
afterEach(clearAway);

describe("how alike plants are at the start", () => {
	const grades = () => screen.getByLabelText("Number in each grade, best first");

	it("is told once grades are assigned at random", async () => {
		const asked = serverThat({
			"GET /api/trials/t/baseline": [],
			"POST /api/trials/t/grades": TOLD,
		});
		show(<BaselineCard trial={TRIAL} canEdit />);
		fireEvent.change(grades(), { target: { value: "6, two" } });
		screen.getByText("Enter whole numbers, such as 40, 50, 30");
		expect(button("Assign at random").disabled).toBe(true);
		fireEvent.change(grades(), { target: { value: "6, 2" } });
		fireEvent.click(button("Assign at random"));
		await screen.findByText("The arms are alike.");
		screen.getByText("1.25");
		expect(last(asked, "POST")?.body).toEqual({ grades: [6, 2] });
	});

	it("is measured cell by cell, with gaps", async () => {
		const asked = serverThat({
			"GET /api/trials/t/baseline": [],
			"PUT /api/trials/t/baseline": TOLD,
		});
		show(<BaselineCard trial={TRIAL} canEdit />);
		const values = screen.getByLabelText("One value per cell, row by row; a dash for none");
		fireEvent.change(values, { target: { value: "12.5 - 11" } });
		fireEvent.click(screen.getByText("Keep 3 values"));
		await waitFor(() =>
			expect(last(asked, "PUT")?.body).toEqual({ trait: "length", values: [12.5, null, 11] }),
		);
	});

	it("waits until the plan is saved, and is not shown where there is nothing to see", () => {
		const asked = serverThat({ "GET /api/trials/t/baseline": [] });
		const { unmount } = show(<BaselineCard trial={TRIAL} canEdit isWaiting />);
		fireEvent.change(grades(), { target: { value: "6, 2" } });
		fireEvent.click(button("Assign at random"));
		expect(asked.filter((a) => a.method === "POST")).toEqual([]);
		unmount();
		const { container } = show(<BaselineCard trial={TRIAL} canEdit={false} />);
		expect(container.querySelector("h2, h3")).toBeNull();
	});
});
