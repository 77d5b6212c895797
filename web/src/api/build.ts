declare const __BUILT__: string;

let isOlder = false;
const watchers = new Set<() => void>();

/** Takes note of when the server's page was built; an answer from the cache may be of before. */
export function noteBuild(served: string | null): void {
	if (isOlder || !(Number(served) > Number(__BUILT__))) return;
	isOlder = true;
	for (const call of watchers) call();
}

export const isPageOlder = () => isOlder;

export function watchBuild(call: () => void): () => void {
	watchers.add(call);
	return () => watchers.delete(call);
}

/** Lets the newer worker in first: the old one would serve the old page again. */
export async function loadNewer(): Promise<void> {
	const held = await navigator.serviceWorker?.getRegistration();
	await held?.update().catch(() => {});
	const coming = held?.installing ?? held?.waiting;
	if (coming && coming.state !== "activated") {
		await new Promise<void>((done) => {
			coming.addEventListener("statechange", () => coming.state === "activated" && done());
			setTimeout(done, 10_000);
		});
	}
	location.reload();
}

const RELOADED = "racecard.reloaded";

/**
 * A part of the page is gone: most often since the server has a newer page. Loads it, but once:
 * a part that is missing for another reason must not have the page load itself for ever.
 */
export function loadNewerOnce(): void {
	if (sessionStorage.getItem(RELOADED) === __BUILT__) return;
	sessionStorage.setItem(RELOADED, __BUILT__);
	void loadNewer();
}
