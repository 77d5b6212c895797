import { MantineProvider } from "@mantine/core";
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";
import { RecordResults, treatmentPage } from "./RecordResults";

afterEach(cleanup);

const RESULT = {
	trial: "t1",
	question: "Parsley in 19 gardens",
	began: "2026-05-03",
	grade: "clear_lead",
	grade_words: "clear lead",
	gap: 0.2,
	low: 0.1,
	high: 0.3,
	is_table: false,
};

it("leads from each result to its trial or its table", () => {
	const results = [RESULT, { ...RESULT, trial: "t2", is_table: true, low: null, high: null }];
	render(
		<MantineProvider env="test">
			<RecordResults results={results} />
		</MantineProvider>,
	);
	const links = screen.getAllByRole("link").map((a) => a.getAttribute("href"));
	expect(links).toEqual(["/trials/t1/finish", "/trials/tables/t2"]);
	expect(screen.getAllByText(/\+20 points/)[0]?.textContent).toContain("(+10 to +30)");
});

it("names a treatment in its address whatever it is called", () => {
	expect(treatmentPage("IBA & talc 0.8 %")).toBe(
		"/form-book/treatment?name=IBA%20%26%20talc%200.8%20%25",
	);
});
