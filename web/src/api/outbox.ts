import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import {
	ApiProblem,
	api,
	body,
	type EntrySent,
	NoAnswer,
	type Sent,
	tellsWaiting,
	whoIsHere,
} from "./client";

/** What a device writes down: a look, a line of the diary, or a photo. */
export type Item =
	| { kind: "look"; item: Sent }
	| { kind: "entry"; item: EntrySent }
	| { kind: "photo"; item: PhotoSent };

export interface PhotoSent {
	id: string;
	scope: string;
	target: string;
	seen_at: string;
	/** The stamp was given by the shed, so this device's clock does not matter. */
	given: boolean;
	text: string;
	photo: Blob;
}

/**
 * One thing on this device. `day`: of the round it was written in; `at`: when, by this device.
 * `acked`: how far the shed's log had come when it was taken; null while it waits.
 */
export type Kept = Item & {
	n?: number;
	trial: string;
	day: number;
	at: number;
	acked: number | null;
	/** Who tapped it; not who is at the bench when it is sent. */
	who?: string;
};

/** What the shed did not take, with its sentence; it stays until the grower decides. */
export type Refused = Kept & { says: string };

interface Shelf extends DBSchema {
	kept: { key: number; value: Kept };
	refused: { key: number; value: Refused };
}

export interface OutboxState {
	/** Everything of the last two days, in the order it was written, waiting or taken. */
	kept: readonly Kept[];
	refused: readonly Refused[];
	/** What lies on this device has been read: only then may a round be shown. */
	isOpen: boolean;
	/** The shed did not answer the last time. */
	isOut: boolean;
	/** This device's key is not good (any more). */
	isShutOut: boolean;
	/** The device itself cannot keep anything. */
	fault: string;
}

const RETRY_MS = 2_000;
const KEEP_MS = 48 * 3600_000;
const BATCH = 200;
/** Answers that say nothing against what was sent: no key, too soon, or the file is busy. */
const PASSES = [401, 408, 429, 503];
/** So often one thing is tried against a server that fails at it, before it is set aside. */
const MOST_TRIES = 3;
const failed = new Map<number, number>();

let state: OutboxState = {
	kept: [],
	refused: [],
	isOpen: false,
	isOut: false,
	isShutOut: false,
	fault: "",
};
const listeners = new Set<() => void>();
let opened: Promise<IDBPDatabase<Shelf>> | null = null;
let busy = false;
let timer: ReturnType<typeof setInterval> | null = null;

function change(next: Partial<OutboxState>): void {
	state = { ...state, ...next };
	for (const tell of listeners) tell();
}

function shelf(): Promise<IDBPDatabase<Shelf>> {
	opened ??= openDB<Shelf>("racecard", 1, {
		upgrade(db) {
			db.createObjectStore("kept", { keyPath: "n", autoIncrement: true });
			db.createObjectStore("refused", { keyPath: "n" });
		},
	});
	return opened;
}

/** Reads what this device holds, sends what waits, and goes on trying. Called once at the start. */
export async function openOutbox(): Promise<void> {
	try {
		const db = await shelf();
		const old = Date.now() - KEEP_MS;
		for (const k of await db.getAll("kept")) {
			if (k.acked !== null && k.at < old && k.n !== undefined) await db.delete("kept", k.n);
		}
		change({ kept: await db.getAll("kept"), refused: await db.getAll("refused"), isOpen: true });
	} catch {
		change({
			isOpen: true,
			fault: "This browser saves nothing (a private window?). Open the page in an ordinary window.",
		});
	}
	tellsWaiting(() => waitingIn(state) + state.refused.length);
	timer ??= setInterval(() => void flush(), RETRY_MS);
	window.addEventListener("online", () => void flush());
	void flush();
}

/**
 * Keeps one thing on this device; the promise is fulfilled when it is written, with strict durability.
 *
 * It is shown at once, in the frame of the tap: its write has been ordered by then. Where the device
 * refuses it, it is withdrawn again and the fault says so. Nothing is sent before it is written.
 */
export async function keep(trial: string, day: number, what: Item): Promise<void> {
	const row: Kept = { ...what, trial, day, at: Date.now(), acked: null, who: whoIsHere() };
	change({ kept: [...state.kept, row] });
	try {
		row.n = await written(row);
	} catch {
		change({
			kept: state.kept.filter((k) => k !== row),
			fault:
				"This device is full, so that was not saved. Free some space, or note it on paper for now.",
		});
		throw new Error(state.fault);
	}
	if (state.fault) change({ fault: "" });
	void flush();
}

/** Writes a row; gives its number on the shelf. Committed at once, so that leaving the page does not undo it. */
async function written(row: Kept): Promise<number> {
	const db = await shelf();
	const tx = db.transaction("kept", "readwrite", { durability: "strict" });
	const added = tx.store.add(row);
	tx.commit();
	await tx.done;
	return added;
}

/** Sends what waits, in order; what the shed refuses is set aside with its sentence. */
export async function flush(): Promise<void> {
	if (busy) return;
	busy = true;
	try {
		for (let next = batch(); next.length; next = batch()) await sendBatch(next);
		if (state.isOut || state.isShutOut) change({ isOut: false, isShutOut: false });
	} catch (error) {
		if (error instanceof ApiProblem && error.status === 401) change({ isShutOut: true });
		else change({ isOut: true });
	} finally {
		busy = false;
	}
}

/** The first waiting things that go together: one trial, one kind. */
function batch(): Kept[] {
	const waiting = state.kept.filter((k) => k.acked === null && k.n !== undefined);
	const first = waiting[0];
	if (!first) return [];
	if (first.kind === "photo") return [first];
	const end = waiting.findIndex((k) => k.trial !== first.trial || k.kind !== first.kind);
	return waiting.slice(0, end < 0 ? BATCH : Math.min(end, BATCH));
}

async function sendBatch(rows: Kept[]): Promise<void> {
	try {
		await taken(rows, await post(rows));
	} catch (error) {
		if (!(error instanceof ApiProblem) || PASSES.includes(error.status)) throw error;
		if (rows.length > 1) {
			for (const row of rows) await sendBatch([row]);
			return;
		}
		const [row] = rows;
		if (row?.n === undefined) return;
		// a fault of the server may pass; the same one again and again must not block what is behind
		const tries = (failed.get(row.n) ?? 0) + 1;
		failed.set(row.n, tries);
		if (error.status >= 500 && tries < MOST_TRIES) throw error;
		const db = await shelf();
		const tx = db.transaction(["kept", "refused"], "readwrite", { durability: "strict" });
		await tx.objectStore("refused").put({ ...row, says: error.message });
		await tx.objectStore("kept").delete(row.n);
		await tx.done;
		change({
			kept: state.kept.filter((k) => k.n !== row.n),
			refused: [...state.refused, { ...row, says: error.message }],
		});
	}
}

/** Sends one batch; gives how far the shed's log had come then. */
async function post(rows: Kept[]): Promise<number> {
	const path = { trial_id: rows[0]?.trial ?? "" };
	const sent_at = new Date().toISOString();
	const kind = rows[0]?.kind;
	if (kind === "look") {
		const items = rows.map((r) => ({ ...(r.item as Sent), who: r.who ?? "" }));
		const to = "/api/trials/{trial_id}/observations" as const;
		return (await body(api.POST(to, { params: { path }, body: { items, sent_at } }))).seq;
	}
	if (kind === "entry") {
		const items = rows.map((r) => ({ ...(r.item as EntrySent), who: r.who ?? "" }));
		const to = "/api/trials/{trial_id}/entries" as const;
		return (await body(api.POST(to, { params: { path }, body: { items, sent_at } }))).seq;
	}
	await postPhoto(path.trial_id, rows[0]?.item as PhotoSent, sent_at, rows[0]?.who ?? whoIsHere());
	return 0;
}

async function postPhoto(trial: string, p: PhotoSent, sent_at: string, who: string): Promise<void> {
	const form = new FormData();
	for (const name of ["id", "scope", "target", "seen_at", "text"] as const) form.set(name, p[name]);
	if (!p.given) form.set("sent_at", sent_at);
	form.set("photo", p.photo, "photo.jpg");
	const headers: Record<string, string> = {};
	if (who) headers["X-Who"] = encodeURIComponent(who);
	let response: Response;
	try {
		response = await fetch(`/api/trials/${trial}/photos`, { method: "POST", body: form, headers });
	} catch {
		throw new NoAnswer();
	}
	if (!response.ok) await body(Promise.resolve({ error: await problem(response), response }));
}

async function problem(response: Response): Promise<unknown> {
	try {
		return await response.json();
	} catch {
		return {};
	}
}

async function taken(rows: Kept[], acked: number): Promise<void> {
	const db = await shelf();
	const tx = db.transaction("kept", "readwrite");
	const ids = new Set(rows.map((r) => r.n));
	for (const row of rows) {
		if (row.kind === "photo" && row.n !== undefined) await tx.store.delete(row.n);
		else await tx.store.put({ ...row, acked });
	}
	await tx.done;
	change({
		kept: state.kept
			.filter((k) => !(ids.has(k.n) && k.kind === "photo"))
			.map((k) => (ids.has(k.n) ? { ...k, acked } : k)),
	});
}

/** Tries a refused thing again, or lets it go for good. */
export async function settleRefused(n: number, again: boolean): Promise<void> {
	const row = state.refused.find((r) => r.n === n);
	if (!row) return;
	const { says: _, ...kept } = row;
	const db = await shelf();
	const tx = db.transaction(["kept", "refused"], "readwrite", { durability: "strict" });
	await tx.objectStore("refused").delete(n);
	failed.delete(n);
	if (again) await tx.objectStore("kept").put(kept);
	await tx.done;
	const rest = again ? [...state.kept, kept].sort((a, b) => (a.n ?? 0) - (b.n ?? 0)) : state.kept;
	change({ refused: state.refused.filter((r) => r.n !== n), kept: rest });
	if (again) void flush();
}

/** Calls back whenever what this device holds changes; gives the way to stop. */
export function onOutbox(tell: () => void): () => void {
	listeners.add(tell);
	return () => listeners.delete(tell);
}

/** What this device holds now. */
export function outboxNow(): OutboxState {
	return state;
}

/** How many things still wait for the shed. */
export function waitingIn(s: OutboxState): number {
	return s.kept.filter((k) => k.acked === null).length;
}

/** This device's own name in the log: made once, told to nobody else. */
export function deviceId(): string {
	const had = localStorage.getItem("racecard.device");
	if (had) return had;
	const made = newId();
	localStorage.setItem("racecard.device", made);
	return made;
}

export function newId(): string {
	return Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) =>
		b.toString(16).padStart(2, "0"),
	).join("");
}

/** For tests: forget everything and start anew. */
export async function resetOutbox(): Promise<void> {
	if (timer) clearInterval(timer);
	timer = null;
	failed.clear();
	const db = await shelf();
	await db.clear("kept");
	await db.clear("refused");
	change({ kept: [], refused: [], isOut: false, isShutOut: false, fault: "" });
}
