import "fake-indexeddb/auto";
import { openDB } from "idb";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Sent } from "./client";
import {
	flush,
	type Kept,
	keep,
	openOutbox,
	outboxNow,
	resetOutbox,
	settleRefused,
	waitingIn,
} from "./outbox";

const tap = (id: string): Sent => ({
	id,
	unit_id: "u",
	kind: "look",
	seen_at: "2026-05-25T07:40:00Z",
	stage: 3,
	removed: 0,
	shoot: false,
	wilted: false,
	as_row: false,
	parts: {},
	device: "d",
	who: "",
	given: false,
});
const look = (id: string, trial = "t") => keep(trial, 3, { kind: "look", item: tap(id) });
const waiting = () => waitingIn(outboxNow());

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

const ok = () => Response.json({ items: [], seq: 41 });
const gone = () => Promise.reject(new TypeError("no network"));
const refusal = (status: number) =>
	Response.json(
		{
			type: "/problems/x",
			title: "t",
			status,
			detail: "no",
			errors: [{ pointer: "", detail: "no" }],
		},
		{ status },
	);

/** What lies on the device, read past the page's own memory. */
async function onDevice(): Promise<Kept[]> {
	const db = await openDB("racecard", 1);
	const rows = (await db.getAll("kept")) as Kept[];
	db.close();
	return rows;
}

describe("the outbox", () => {
	beforeEach(async () => {
		await resetOutbox();
	});
	afterEach(() => vi.unstubAllGlobals());

	it("shows a tap at once, and sends it only when it is written", async () => {
		const batches = shed(ok);
		const written = look("one-0001");
		expect(outboxNow().kept.map((k) => (k.item as Sent).id)).toEqual(["one-0001"]);
		await flush();
		expect(batches).toEqual([]);
		await written;
		await vi.waitFor(() => expect(batches).toEqual([["one-0001"]]));
	});

	it("withdraws a tap that the device refuses, and says so", async () => {
		shed(ok);
		await look("one-0001");
		const refusing = vi.spyOn(IDBDatabase.prototype, "transaction").mockImplementation(() => {
			throw new DOMException("full", "QuotaExceededError");
		});
		await expect(look("two-0002")).rejects.toThrow("This device is full");
		refusing.mockRestore();
		expect(outboxNow().kept.map((k) => (k.item as Sent).id)).toEqual(["one-0001"]);
		expect(outboxNow().fault).toContain("was not saved");
		await look("three-003");
		expect(outboxNow().fault).toBe("");
	});

	it("holds a tap on the device before it says it is kept, with or without the shed", async () => {
		shed(gone);
		await look("one-0001");
		expect((await onDevice()).map((k) => (k.item as Sent).id)).toEqual(["one-0001"]);
		expect(waiting()).toBe(1);
		await vi.waitFor(() => expect(outboxNow().isOut).toBe(true));
	});

	it("marks what the shed took with how far its log had come", async () => {
		shed(ok);
		await look("one-0001");
		await vi.waitFor(() => expect(waiting()).toBe(0));
		expect((await onDevice())[0]?.acked).toBe(41);
	});

	it("keeps everything when the shed itself fails, and sends it once it is well", async () => {
		shed(() => Response.json({}, { status: 503 }));
		await look("one-0001");
		await vi.waitFor(() => expect(outboxNow().isOut).toBe(true));
		const batches = shed(ok);
		await flush();
		expect(batches).toEqual([["one-0001"]]);
		expect(outboxNow().isOut).toBe(false);
	});

	it("sends in the order it was written, one trial and one kind at a time", async () => {
		shed(gone);
		await look("a-000001");
		await look("a-000002");
		await look("b-000001", "other");
		const batches = shed(ok);
		await vi.waitFor(async () => {
			await flush();
			expect(waiting()).toBe(0);
		});
		expect(batches).toEqual([["a-000001", "a-000002"], ["b-000001"]]);
	});

	it("sends what an earlier page left behind", async () => {
		shed(gone);
		await look("old-0001");
		const batches = shed(ok);
		await openOutbox();
		await vi.waitFor(() => expect(waiting()).toBe(0));
		expect(batches.flat()).toEqual(["old-0001"]);
	});

	it("sets only the refused tap aside, keeps it, and sends the others", async () => {
		shed(gone);
		await look("good-001");
		await look("bad-0001");
		await look("good-002");
		const taken: string[] = [];
		shed((ids) => {
			if (ids.includes("bad-0001")) return refusal(422);
			taken.push(...ids);
			return ok();
		});
		await vi.waitFor(async () => {
			await flush();
			expect(waiting()).toBe(0);
		});
		expect(taken).toEqual(["good-001", "good-002"]);
		expect(outboxNow().refused.map((r) => r.says)).toEqual(["no"]);
		shed(ok);
		await settleRefused(outboxNow().refused[0]?.n ?? 0, true);
		await vi.waitFor(() => expect(waiting()).toBe(0));
		expect(outboxNow().refused).toEqual([]);
	});

	it.each([400, 403, 409, 413, 500])(
		"lets nothing behind wait for one that answers %i for good",
		async (status) => {
			shed(gone);
			await look("bad-0001");
			await look("good-001");
			shed((ids) => (ids.includes("bad-0001") ? refusal(status) : ok()));
			await vi.waitFor(async () => {
				await flush();
				expect(waiting()).toBe(0);
			});
			expect(outboxNow().refused.map((r) => r.item)).toMatchObject([{ id: "bad-0001" }]);
		},
	);

	it("keeps trying what a busy server did not take", async () => {
		shed(() => refusal(503));
		await look("one-0001");
		for (let i = 0; i < 5; i++) await flush();
		expect(waiting()).toBe(1);
	});

	it("sends the name of who tapped, not of who sends", async () => {
		localStorage.setItem("racecard.who", "Ines");
		shed(gone);
		await look("one-0001");
		localStorage.setItem("racecard.who", "Tom");
		const sent: Sent[] = [];
		vi.stubGlobal("fetch", async (request: Request) => {
			sent.push(...((await request.json()) as { items: Sent[] }).items);
			return ok();
		});
		await vi.waitFor(async () => {
			await flush();
			expect(waiting()).toBe(0);
		});
		expect(sent[0]?.who).toBe("Ines");
	});

	it("holds on to everything while this device's key is not good", async () => {
		shed(() => refusal(401));
		await look("one-0001");
		await vi.waitFor(() => expect(outboxNow().isShutOut).toBe(true));
		expect(waiting()).toBe(1);
		expect(outboxNow().refused).toEqual([]);
	});
});
