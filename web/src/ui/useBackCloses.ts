import { useEffect, useEffectEvent } from "react";

let made = 0;

/**
 * Back closes what is laid over the page before it leaves the page: an entry of the history stands
 * for the open sheet, and is taken away again when the sheet is closed by other means.
 */
export function useBackCloses(isOpen: boolean, onClose: () => void): void {
	const close = useEffectEvent(onClose);
	useEffect(() => {
		if (!isOpen) return;
		made += 1;
		const id = made;
		window.history.pushState({ ...window.history.state, sheet: id }, "");
		const went = () => window.history.state?.sheet !== id && close();
		window.addEventListener("popstate", went);
		return () => {
			window.removeEventListener("popstate", went);
			if (window.history.state?.sheet === id) window.history.back();
		};
	}, [isOpen]);
}
