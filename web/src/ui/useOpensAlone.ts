import { useEffect, useState } from "react";

const held = () => Boolean(navigator.serviceWorker?.controller);

/** Whether this page opens again without the shed: a service worker holds it. */
export function useOpensAlone(): boolean {
	const [is, set] = useState(held);
	useEffect(() => {
		const workers = navigator.serviceWorker;
		if (!workers) return;
		const look = () => set(held());
		workers.addEventListener("controllerchange", look);
		return () => workers.removeEventListener("controllerchange", look);
	}, []);
	return is;
}
