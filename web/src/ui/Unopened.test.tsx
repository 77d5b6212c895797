import { useQuery } from "@tanstack/react-query";
import { screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { api, body } from "@/api/client";
import { button, clearAway, serverThat, show, startFresh } from "@/testing";
import { OldBanner } from "../app/OldBanner";
import { useReference } from "./reference";
import { faultOf, Unopened } from "./Unopened";

beforeEach(startFresh);
afterEach(clearAway);

function Page() {
	const asked = useQuery({ queryKey: ["clock"], queryFn: () => body(api.GET("/api/clock")) });
	if (!asked.data) return <Unopened of={[asked]} shape="list" />;
	return (
		<>
			<OldBanner inRound={false} />
			<p>It stands.</p>
			<button type="button" onClick={() => void asked.refetch()}>
				Again
			</button>
		</>
	);
}

describe("a page and what it asks for", () => {
	it("says what failed where there is nothing to show", async () => {
		serverThat({ "GET /api/clock": 500 });
		show(<Page />);
		expect(screen.getByRole("status")).toBeTruthy();
		await waitFor(() => expect(screen.getByRole("alert").textContent).toBe("The server refused."));
	});

	it("stands when asking anew fails, says of when it is, and forgets that once it is told", async () => {
		const answers: Record<string, unknown> = { "GET /api/clock": { says: "" } };
		serverThat(answers);
		show(<Page />);
		await waitFor(() => expect(screen.getByText("It stands.")).toBeTruthy());
		answers["GET /api/clock"] = 500;
		button("Again").click();
		await waitFor(() => expect(screen.getByRole("alert").textContent).toMatch(/known at \d/));
		expect(screen.getByText("It stands.")).toBeTruthy();
		answers["GET /api/clock"] = { says: "" };
		button("Again").click();
		await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
	});

	it("says where what every page needs was never told, and asks again", async () => {
		const answers: Record<string, unknown> = { "GET /api/reference": 500 };
		serverThat(answers);
		const Scale = () => <p>{useReference() ? "There." : "Not yet."}</p>;
		show([<OldBanner key="banner" inRound />, <Scale key="scale" />]);
		await waitFor(() => expect(screen.getByRole("alert").textContent).toMatch(/missing/));
		answers["GET /api/reference"] = { terms: [] };
		button("Try again").click();
		await waitFor(() => expect(screen.getByText("There.")).toBeTruthy());
		expect(screen.queryByRole("alert")).toBeNull();
	});

	it("is not there only while something it needs was never told", () => {
		const error = new Error("no");
		expect(faultOf({ data: 1, error }, { data: 1, error: null })).toBeNull();
		expect(faultOf({ data: 1, error: null }, { data: undefined, error })).toBe(error);
	});
});
