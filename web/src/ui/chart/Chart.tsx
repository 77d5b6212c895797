import type { ReactNode } from "react";
import styles from "./Chart.module.css";
import type { Scale } from "./scale";

/** The room around what is drawn, pixels. */
export interface Pad {
	left: number;
	right: number;
	top: number;
	bottom: number;
}

export interface ChartProps {
	width: number;
	height: number;
	/** What it shows, for those who listen; none where the words stand beside it. */
	says?: string;
	className?: string;
	children: ReactNode;
}

/** A drawing in its own pixels, that says what it shows. */
export function Chart({ width, height, says, className, children }: ChartProps) {
	return (
		<svg
			viewBox={`0 0 ${width} ${height}`}
			className={`${styles.chart} ${className ?? ""}`}
			role={says === undefined ? undefined : "img"}
			aria-label={says}
			aria-hidden={says === undefined || undefined}
		>
			{children}
		</svg>
	);
}

export interface RungsProps {
	/** Where they stand, in values. */
	at: readonly number[];
	y: Scale;
	/** From where to where they run, pixels. */
	from: number;
	to: number;
	says: (value: number) => string;
	/** Words alone, without lines. */
	bare?: boolean;
}

/** Level lines of a vertical axis, each with its value on the left. */
export function Rungs({ at, y, from, to, says, bare = false }: RungsProps) {
	return at.map((v) => (
		<g key={v}>
			{!bare && <line x1={from} x2={to} y1={y(v)} y2={y(v)} className={styles.rule} />}
			<text x={from - 6} y={y(v) + 4} textAnchor="end">
				{says(v)}
			</text>
		</g>
	));
}

export interface FeetProps {
	at: readonly number[];
	x: Scale;
	/** The line they are written on, pixels. */
	y: number;
	says: (value: number) => ReactNode;
	/** The outermost are set inwards, so that long words are not cut. */
	inwards?: boolean;
}

/** The values under a horizontal axis. */
export function Feet({ at, x, y, says, inwards = false }: FeetProps) {
	const last = at.length - 1;
	return at.map((v, i) => (
		<text
			key={v}
			x={x(v)}
			y={y}
			textAnchor={!inwards || (i > 0 && i < last) ? "middle" : i === 0 ? "start" : "end"}
		>
			{says(v)}
		</text>
	));
}

export interface RangeProps {
	/** Where it stands on the other axis, pixels. */
	at: number;
	from: number;
	to: number;
	upright?: boolean;
	className?: string;
	dashed?: boolean;
}

/** A range of values as a bar across its axis. */
export function Range({ at, from, to, upright = false, className, dashed = false }: RangeProps) {
	const ends = upright
		? { x1: at, x2: at, y1: from, y2: to }
		: { x1: from, x2: to, y1: at, y2: at };
	return (
		<line
			{...ends}
			className={className ?? styles.range}
			strokeDasharray={dashed ? "6 4" : undefined}
		/>
	);
}
