import { type RefObject, useEffect, useState } from "react";

const STEP = 6;
const NARROWEST_PX = 58;

/** First and last column of a wide bench that are on the screen or near it; all of a small one. */
export function useColumnsSeen(
	box: RefObject<HTMLElement | null>,
	columns: number,
	isSmall: boolean,
): readonly [number, number] {
	const [seen, setSeen] = useState<readonly [number, number]>([0, 3 * STEP]);
	useEffect(() => {
		const here = box.current;
		if (isSmall || !here) return;
		const look = () => {
			const width = Math.max(NARROWEST_PX, here.scrollWidth / (columns + 1));
			const from = Math.floor(here.scrollLeft / width / STEP - 1) * STEP;
			const to = Math.ceil((here.scrollLeft + here.clientWidth) / width / STEP + 1) * STEP;
			setSeen((old) => (old[0] === from && old[1] === to ? old : [from, to]));
		};
		look();
		here.addEventListener("scroll", look, { passive: true });
		window.addEventListener("resize", look);
		return () => {
			here.removeEventListener("scroll", look);
			window.removeEventListener("resize", look);
		};
	}, [box, columns, isSmall]);
	return isSmall ? [0, columns] : seen;
}
