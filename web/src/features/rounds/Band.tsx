import { type ReactNode, useEffect, useRef, useState } from "react";

export interface BandProps {
	rows: number;
	/** Painted also where it is out of sight: a small bench, or the band that holds the cursor. */
	isAlways: boolean;
	className?: string;
	style: React.CSSProperties;
	children: () => ReactNode;
}

const ROW_PX = 99;
const AHEAD = "300px";

/** Some rows of a tray, painted while they are near what is seen; else a space of their height. */
export function Band({ rows, isAlways, className, style, children }: BandProps) {
	const box = useRef<HTMLDivElement>(null);
	const [height, setHeight] = useState(rows * ROW_PX);
	const [isNear, setNear] = useState(false);
	useEffect(() => {
		const here = box.current;
		if (isAlways || !here) return;
		const watch = new IntersectionObserver(
			([entry]) => {
				if (!entry) return;
				if (!entry.isIntersecting && here.childElementCount > 0) setHeight(here.offsetHeight);
				setNear(entry.isIntersecting);
			},
			{ rootMargin: AHEAD, scrollMargin: AHEAD } as IntersectionObserverInit, // the bench scrolls by itself on a phone
		);
		watch.observe(here);
		return () => watch.disconnect();
	}, [isAlways]);
	const isShown = isAlways || isNear;
	return (
		<div ref={box} className={isShown ? className : undefined} style={isShown ? style : { height }}>
			{isShown && children()}
		</div>
	);
}
