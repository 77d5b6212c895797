import { useCallback, useEffect, useRef, useState } from "react";
import { ApiProblem, api, body, type Sent } from "@/api/client";

const RETRY_MS = 2_000;

/**
 * Taps wait here until the shed has them. They are written to this device before they are shown,
 * sent in order, and sent again after a break; the shed takes each id only once.
 */
export function useOutbox(
	trialId: string,
	onSent: () => void,
	onRefused: (error: ApiProblem) => void,
) {
	const key = `racecard.outbox.${trialId}`;
	const [waiting, setWaiting] = useState(() => read(key).length);
	const [isOut, setOut] = useState(false);
	const busy = useRef(false);
	const callbacks = useRef({ onSent, onRefused });
	callbacks.current = { onSent, onRefused };

	const flush = useCallback(async () => {
		if (busy.current) return;
		busy.current = true;
		try {
			for (let items = read(key); items.length; items = read(key)) {
				drop(key, await send(trialId, items));
				setWaiting(read(key).length);
			}
			setOut(false);
			callbacks.current.onSent();
		} catch (error) {
			if (error instanceof ApiProblem && error.status < 500) {
				drop(key, read(key).slice(0, 1));
				callbacks.current.onRefused(error);
			} else setOut(true);
		} finally {
			busy.current = false;
			setWaiting(read(key).length);
		}
	}, [key, trialId]);

	useEffect(() => {
		if (read(key).length) void flush();
		const timer = setInterval(() => {
			if (read(key).length) void flush();
		}, RETRY_MS);
		return () => clearInterval(timer);
	}, [flush, key]);

	const post = useCallback(
		(item: Sent) => {
			localStorage.setItem(key, JSON.stringify([...read(key), item]));
			setWaiting(read(key).length);
			void flush();
		},
		[flush, key],
	);
	return { post, waiting, isOut };
}

/** Sends all in one batch; where the shed refuses a batch, the first alone. Gives what went. */
async function send(trialId: string, items: Sent[]): Promise<Sent[]> {
	const path = { trial_id: trialId };
	const post = (batch: Sent[]) =>
		body(
			api.POST("/api/trials/{trial_id}/observations", { params: { path }, body: { items: batch } }),
		);
	try {
		await post(items);
		return items;
	} catch (error) {
		if (items.length === 1 || !(error instanceof ApiProblem)) throw error;
		await post(items.slice(0, 1));
		return items.slice(0, 1);
	}
}

function read(key: string): Sent[] {
	return JSON.parse(localStorage.getItem(key) ?? "[]") as Sent[];
}

function drop(key: string, items: Sent[]): void {
	const gone = new Set(items.map((i) => i.id));
	localStorage.setItem(key, JSON.stringify(read(key).filter((i) => !gone.has(i.id))));
}
