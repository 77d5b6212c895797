import { screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it } from "vitest";
import type { Table } from "@/api/client";
import { clearAway, show, startFresh } from "@/testing";
import { RangesCard } from "./RangesCard";

beforeEach(startFresh);
afterEach(clearAway);

it("counts in bounds are told as far as they hold", () => {
	const ranges = [
		{ treatment: "Water", rate_low: 0.4, rate_high: 0.4, grade: "" },
		{ treatment: "IBA", rate_low: 0.5, rate_high: 0.75, grade: "too close to call" },
	];
	show(<RangesCard table={{ ranges } as unknown as Table} />);
	expect(screen.getAllByRole("listitem").map((li) => li.textContent)).toEqual([
		"Water 40 %",
		"IBA 50 to 75 %: too close to call, for every count that is possible",
	]);
});

it("exact counts need no card", () => {
	show(<RangesCard table={{ ranges: [] } as unknown as Table} />);
	expect(screen.queryByText("Counts in bounds")).toBeNull();
});
