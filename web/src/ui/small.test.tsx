import { MantineProvider } from "@mantine/core";
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ChooseFile } from "./ChooseFile";
import { PhoneFold } from "./PhoneFold";
import { go, Link, NavLink, useLeaveGuard, useLocation } from "./routing";

const shown = (node: ReactNode) => render(<MantineProvider env="test">{node}</MantineProvider>);

afterEach(cleanup);

describe("a file that is chosen", () => {
	it("is handed over, and can be chosen again", () => {
		const onChoose = vi.fn();
		const { container } = shown(
			<ChooseFile accept=".csv" onChoose={onChoose}>
				Choose
			</ChooseFile>,
		);
		const field = container.querySelector("input[type=file]") as HTMLInputElement;
		const file = new File(["a"], "a.csv");
		for (const files of [[file], [file], []]) {
			Object.defineProperty(field, "files", { value: files, configurable: true });
			fireEvent.change(field);
		}
		expect(onChoose.mock.calls).toEqual([[[file]], [[file]]]);
	});
});

describe("what is folded on a phone", () => {
	const wide = (matches: boolean) =>
		vi.stubGlobal("matchMedia", () => ({
			matches,
			addEventListener: () => {},
			removeEventListener: () => {},
		}));
	afterEach(() => vi.unstubAllGlobals());

	it("stands open at the desk", () => {
		wide(false);
		shown(<PhoneFold title="Export">links</PhoneFold>);
		expect(screen.queryByText("Export")).toBeNull();
	});

	it("waits under its title on a phone", () => {
		wide(true);
		shown(<PhoneFold title="Export">links</PhoneFold>);
		expect(screen.getByText("Export").closest("details")?.open).toBe(false);
	});
});

describe("moving between pages", () => {
	beforeEach(() => go("/trials/1/plan", { replace: true }));

	function Here() {
		const { pathname, hash, state } = useLocation();
		return (
			<p>
				{pathname} {hash} {String(state ?? "")}
			</p>
		);
	}

	it("tells the address and what was given along", async () => {
		shown(<Here />);
		go("/library#soaks", { state: "given" });
		await screen.findByText("/library #soaks given");
	});

	it("marks the link of the page one is on or under", () => {
		shown(
			<>
				<NavLink to="/trials">Trials</NavLink>
				<NavLink to="/" end>
					Today
				</NavLink>
				<Link to="/library">Library</Link>
			</>,
		);
		expect(screen.getByText("Trials").getAttribute("aria-current")).toBe("page");
		expect(screen.getByText("Today").getAttribute("aria-current")).toBeNull();
		expect(screen.getByText("Library").getAttribute("href")).toBe("/library");
	});

	it("asks before leaving, and goes only when told to", async () => {
		function Guarded() {
			const { isAsked, leave, stay } = useLeaveGuard(true);
			return (
				<>
					<Here />
					{isAsked && (
						<>
							<button type="button" onClick={stay}>
								Stay
							</button>
							<button type="button" onClick={leave}>
								Leave
							</button>
						</>
					)}
				</>
			);
		}
		shown(<Guarded />);
		go("/mixing");
		fireEvent.click(await screen.findByText("Stay"));
		expect(window.location.pathname).toBe("/trials/1/plan");
		go("/trials/1/plan?unit=3"); // within the page nothing is asked
		expect(screen.queryByText("Leave")).toBeNull();
		go("/mixing");
		fireEvent.click(await screen.findByText("Leave"));
		await waitFor(() => expect(window.location.pathname).toBe("/mixing"));
	});
});
