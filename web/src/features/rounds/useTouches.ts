import { type RefObject, useEffect } from "react";

/** As long as a slow phone takes to draw what was entered: the key is not seen to let go before. */
const STAYS_MS = 120;

/**
 * Marks the button under a finger in the frame of the touch, before anything is entered or drawn: a slow phone needs
 * several frames for that. (The browser's own :active waits until it knows that no scroll begins.)
 */
export function useTouches(within: RefObject<HTMLElement | null>) {
	useEffect(() => {
		const { current } = within;
		current?.addEventListener("pointerdown", show);
		return () => current?.removeEventListener("pointerdown", show);
	}, [within]);
}

function show({ target }: PointerEvent) {
	const touched = (target as Element).closest("button");
	if (!touched) return;
	touched.setAttribute("data-touched", "");
	const over = new AbortController();
	const release = ({ type }: Event) => {
		over.abort();
		const stays = type === "pointerup" ? STAYS_MS : 0; // cancelled: it scrolls
		setTimeout(() => touched.removeAttribute("data-touched"), stays);
	};
	for (const type of ["pointerup", "pointercancel"])
		window.addEventListener(type, release, { signal: over.signal });
}
