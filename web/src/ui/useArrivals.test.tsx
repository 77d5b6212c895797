import { QueryClient, QueryClientProvider, QueryObserver } from "@tanstack/react-query";
import { act, renderHook, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { ofTrial, trialChanged } from "@/api/keys";
import type { OutboxState } from "@/api/outbox";
import { useArrivals } from "./useArrivals";

const outbox = vi.hoisted(() => ({ kept: [] as unknown[], tell: () => {} }));
vi.mock("./useOutbox", async () => {
	const { useSyncExternalStore } = await import("react");
	let state = { kept: outbox.kept } as unknown as OutboxState;
	return {
		useOutbox: () =>
			useSyncExternalStore(
				(tell) => {
					outbox.tell = () => {
						state = { kept: outbox.kept } as unknown as OutboxState;
						tell();
					};
					return () => {};
				},
				() => state,
			),
	};
});

const hold = (...kept: { trial: string; acked: number | null }[]) =>
	act(() => {
		outbox.kept = kept;
		outbox.tell();
	});

describe("what has arrived", () => {
	beforeEach(() => {
		outbox.kept = [];
	});
	it("makes what was told of its trial old, when the last of it is sent, and of no other", async () => {
		const queries = new QueryClient();
		for (const id of ["a", "b"]) queries.setQueryData(ofTrial(id, "finish"), {});
		const isOld = (id: string) => queries.getQueryState(ofTrial(id, "finish"))?.isInvalidated;
		renderHook(useArrivals, {
			wrapper: ({ children }) => (
				<QueryClientProvider client={queries}>{children}</QueryClientProvider>
			),
		});
		hold({ trial: "a", acked: null }, { trial: "a", acked: null });
		hold({ trial: "a", acked: 1 }, { trial: "a", acked: null });
		expect(isOld("a")).toBe(false);
		hold({ trial: "a", acked: 1 }, { trial: "a", acked: 2 });
		await waitFor(() => expect([isOld("a"), isOld("b")]).toEqual([true, false]));
	});

	it("asks anew where the first answer was on its way", async () => {
		const queries = new QueryClient();
		const answers = ["before", "after"];
		const late: (() => void)[] = [];
		const observer = new QueryObserver(queries, {
			queryKey: ofTrial("a", "finish"),
			queryFn: () => {
				const told = answers.shift();
				return new Promise((answer) => late.push(() => answer(told)));
			},
		});
		const stop = observer.subscribe(() => {});
		const changed = trialChanged(queries, "a");
		await waitFor(() => expect(late).toHaveLength(2));
		for (const answer of late) answer();
		await changed;
		expect(queries.getQueryData(ofTrial("a", "finish"))).toBe("after");
		stop();
	});
});
