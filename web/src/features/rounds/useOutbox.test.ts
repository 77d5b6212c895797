import { act, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Sent } from "@/api/client";
import { sent } from "./round";
import { useOutbox } from "./useOutbox";

const KEY = "racecard.outbox.t";
const tap = (id: string): Sent => sent({ kind: "look", stage: 3 }, "u", id, "2026-05-25T07:40:00Z");
const kept = () => JSON.parse(localStorage.getItem(KEY) ?? "[]") as Sent[];

/** A shed that answers as told, and the batches it was sent. */
function shed(answer: (ids: string[]) => Response | Promise<Response>) {
	const batches: string[][] = [];
	vi.stubGlobal("fetch", async (request: Request) => {
		const ids = ((await request.json()) as { items: Sent[] }).items.map((i) => i.id);
		batches.push(ids);
		return answer(ids);
	});
	return batches;
}

const ok = () => Response.json({ items: [] });
const refusal = () =>
	Response.json(
		{
			type: "/problems/invalid_input",
			title: "t",
			status: 422,
			detail: "d",
			errors: [{ pointer: "", detail: "no" }],
		},
		{ status: 422 },
	);

describe("the outbox", () => {
	beforeEach(() => localStorage.clear());
	afterEach(() => vi.unstubAllGlobals());

	it("keeps a tap on the device before it is sent, and lets it go when the shed has it", async () => {
		let release = () => {};
		const held = new Promise<void>((resolve) => {
			release = resolve;
		});
		shed(async () => {
			await held;
			return ok();
		});
		const onSent = vi.fn();
		const { result } = renderHook(() => useOutbox("t", onSent, vi.fn()));
		act(() => result.current.post(tap("one-0001")));
		expect(kept().map((i) => i.id)).toEqual(["one-0001"]);
		expect(result.current.waiting).toBe(1);
		release();
		await waitFor(() => expect(onSent).toHaveBeenCalledOnce());
		expect(kept()).toEqual([]);
		expect(result.current.waiting).toBe(0);
	});

	it("keeps everything while the shed does not answer", async () => {
		shed(() => Promise.reject(new TypeError("no network")));
		const { result } = renderHook(() => useOutbox("t", vi.fn(), vi.fn()));
		act(() => result.current.post(tap("one-0001")));
		await waitFor(() => expect(result.current.isOut).toBe(true));
		expect(kept()).toHaveLength(1);
	});

	it("keeps everything when the shed itself fails", async () => {
		shed(() => Response.json({}, { status: 500 }));
		const { result } = renderHook(() => useOutbox("t", vi.fn(), vi.fn()));
		act(() => result.current.post(tap("one-0001")));
		await waitFor(() => expect(result.current.isOut).toBe(true));
		expect(kept()).toHaveLength(1);
	});

	it("sends what an earlier page left behind", async () => {
		localStorage.setItem(KEY, JSON.stringify([tap("old-0001"), tap("old-0002")]));
		const batches = shed(ok);
		renderHook(() => useOutbox("t", vi.fn(), vi.fn()));
		await waitFor(() => expect(kept()).toEqual([]));
		expect(batches).toEqual([["old-0001", "old-0002"]]);
	});

	it("drops only the tap that is refused, and says so", async () => {
		localStorage.setItem(KEY, JSON.stringify([tap("good-001"), tap("bad-0001"), tap("good-002")]));
		const taken: string[] = [];
		shed((ids) => {
			if (ids.includes("bad-0001")) return refusal();
			taken.push(...ids);
			return ok();
		});
		const onRefused = vi.fn();
		renderHook(() => useOutbox("t", vi.fn(), onRefused));
		await waitFor(() => expect(onRefused).toHaveBeenCalledOnce());
		await waitFor(() => expect(kept()).toEqual([]), { timeout: 4000 });
		expect(taken).toEqual(["good-001", "good-002"]);
	});
});
