import type { ReactNode } from "react";
import { Chart, Feet, Range } from "@/ui/chart/Chart";
import { linear, marks } from "@/ui/chart/scale";
import styles from "./Beside.module.css";

const WIDTH = 260;
const ROW = 26;
const EDGE = 18;

export interface GapRowProps {
	name: ReactNode;
	/** The gap and its limits as fractions; null where there is none. */
	gap: { estimate: number; low: number | null; high: number | null } | null;
	/** Points at the ends of the axis. */
	span: readonly [number, number];
	/** How it reads, for those who listen. */
	said: string;
	/** Smallest difference that matters, points, shaded around 0. */
	margin?: number | null;
	/** The range leaves out 0, but the test does not call it. */
	broken?: boolean;
	/** From the gap to the axis: 100 for fractions in points. */
	factor?: number;
	/** Drawn open: a sum of others, or a gap without limits. */
	hollow?: boolean;
	children: ReactNode;
}

/** One gap on an axis, with its range. */
export function GapRow({
	name,
	gap,
	span,
	said,
	margin,
	broken,
	factor = 100,
	hollow,
	children,
}: GapRowProps) {
	const x = linear(span, [EDGE, WIDTH - EDGE]);
	const at = x(factor * (gap?.estimate ?? 0));
	return (
		<div className={styles.forestRow}>
			<span className={styles.arm}>{name}</span>
			<Chart width={WIDTH} height={ROW} says={said}>
				{margin != null && (
					<rect
						x={x(-margin)}
						width={x(margin) - x(-margin)}
						y={0}
						height={ROW}
						className={styles.margin}
					/>
				)}
				<line x1={x(0)} x2={x(0)} y1={0} y2={ROW} className={styles.zero} />
				{gap?.low != null && gap.high != null && (
					<Range
						at={ROW / 2}
						from={x(factor * gap.low)}
						to={x(factor * gap.high)}
						dashed={broken}
					/>
				)}
				{gap && (
					<path
						d={`M${at} ${ROW / 2 - 6}l6 6l-6 6l-6 -6z`}
						className={hollow ? styles.hollow : styles.mark}
					/>
				)}
			</Chart>
			<span className={styles.value}>{children}</span>
		</div>
	);
}

/** The axis below such rows. */
export function GapAxis({ span }: { span: readonly [number, number] }) {
	const x = linear(span, [EDGE, WIDTH - EDGE]);
	return (
		<div className={styles.forestRow}>
			<span />
			<Chart width={WIDTH} height={18}>
				<Feet
					at={marks(span)}
					x={x}
					y={13}
					says={(v) => (v > 0 ? `+${v}` : v < 0 ? `−${-v}` : 0)}
				/>
			</Chart>
			<span />
		</div>
	);
}
