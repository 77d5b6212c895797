/** What component tests share: a card shown as on its page, and a server that answers as it is told. */
import { MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen } from "@testing-library/react";
import type { ReactNode } from "react";
import { vi } from "vitest";

/** What a page asked the server for. */
export interface Asked {
	method: string;
	path: string;
	body: unknown;
}

/** An answer by method and path, such as "GET /api/trials"; a number is the status of a refusal. */
export type Answers = Record<string, unknown>;

const refusal = (status: number) => ({
	type: "/problems/invalid_input",
	title: "Please check what was entered",
	status,
	errors: [{ pointer: "", detail: "The server refused.", spans: [] }],
});

/** Stands in for the server: what it was asked is kept, what it was not told about never answers. */
export function serverThat(answers: Answers): Asked[] {
	const asked: Asked[] = [];
	vi.stubGlobal("fetch", async (request: Request) => {
		const { pathname, search } = new URL(request.url);
		const text = await request.text();
		asked.push({
			method: request.method,
			path: pathname + search,
			body: text ? JSON.parse(text) : undefined,
		});
		const told = answers[`${request.method} ${pathname}`];
		if (told === undefined) return new Promise<Response>(() => {});
		const status = typeof told === "number" ? told : 200;
		return new Response(JSON.stringify(typeof told === "number" ? refusal(told) : told), {
			status,
			headers: { "content-type": "application/json" },
		});
	});
	return asked;
}

/** The last thing that was asked by a method; a card may ask for other things meanwhile. */
export const last = (asked: readonly Asked[], method: string) =>
	asked.findLast((a) => a.method === method);

/** Shows a card alone, with what its page gives it. */
export function show(children: ReactNode) {
	const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
	return render(
		<MantineProvider env="test">
			<QueryClientProvider client={queries}>{children}</QueryClientProvider>
		</MantineProvider>,
	);
}

export const button = (name: RegExp | string) =>
	screen.getByRole("button", { name }) as HTMLButtonElement;

/** Before each test: nothing kept, no server, a desk. */
export function startFresh() {
	sessionStorage.clear();
	localStorage.clear();
	vi.stubGlobal("matchMedia", () => ({
		matches: false,
		addEventListener() {},
		removeEventListener() {},
	}));
	Object.defineProperty(document, "fonts", {
		value: { addEventListener() {}, removeEventListener() {} },
		configurable: true,
	});
	vi.stubGlobal(
		"ResizeObserver",
		class {
			observe() {}
			unobserve() {}
			disconnect() {}
		},
	);
	serverThat({});
}

/** After each test. */
export function clearAway() {
	cleanup();
	vi.unstubAllGlobals();
}
