/* Keeps the page of a garden on its phone, so that it opens without a signal. */
const KEPT = "racecard-garden";
self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (e) => e.waitUntil(self.clients.claim()));
self.addEventListener("fetch", (e) => {
	const path = new URL(e.request.url).pathname;
	if (e.request.method !== "GET" || !path.startsWith("/garden/")) return;
	e.respondWith(
		fetch(e.request)
			.then(async (answer) => {
				if (answer.ok) await (await caches.open(KEPT)).put(e.request, answer.clone());
				return answer;
			})
			.catch(async () => (await caches.match(e.request)) || Response.error()),
	);
});
