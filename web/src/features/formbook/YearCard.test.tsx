import { screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it } from "vitest";
import { clearAway, serverThat, show, startFresh } from "@/testing";
import { YearCard } from "./YearCard";

const path = "GET /api/form-book/plant";
const rate = { struck: 9, n: 20, trials: 2, percent: 45, low: 26, high: 66 };

beforeEach(startFresh);
afterEach(clearAway);

it("the year of a plant says each month's controls and leads to its page", async () => {
	serverThat({ [path]: { months: [{ month: 6, rate }], usual_says: "Usually 40 to 50 %." } });
	show(<YearCard plant="Olive & fig" />);
	await screen.findByText("Usually 40 to 50 %.");
	screen.getByRole("img", { name: "Rate of the controls by month. 6: 9 of 20 in 2 trials" });
	expect(screen.getByRole("link").getAttribute("href")).toBe(
		"/form-book/plant?plant=Olive%20%26%20fig",
	);
});

it("a plant without a finished control says so", async () => {
	serverThat({ [path]: { months: [], usual_says: "" } });
	show(<YearCard plant="Fig" />);
	await screen.findByText("No finished control of this plant yet.");
	screen.getByRole("img", { name: /None yet/ });
});
