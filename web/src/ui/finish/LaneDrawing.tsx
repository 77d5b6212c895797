import type { KeyboardEvent, MouseEvent, PointerEvent } from "react";
import type { Lane, Schemas } from "@/api/client";
import { cumulative, type LineSpan, lineMarks, MOST_LINES } from "@/core/lanes";
import { stepArea, stepPath } from "@/ui/chart/paths";
import { useSilk } from "@/ui/reference";
import styles from "./Finish.module.css";
import type { LaneClock } from "./useClock";

export const LANE_WIDTH = 430;

export type Line = Lane["lines"][number];

/** A line whose unit may not be known. */
type Span = LineSpan & { unit?: number };

export interface LaneDrawingProps {
	lane: Lane;
	/** The lines to draw, in their order. */
	lines: readonly Line[];
	/** The control's curve, drawn through this lane; none in its own. */
	pace: Lane["curve"] | undefined;
	clock: LaneClock;
	/** The last day on which all were looked at; the pace line ends there. */
	seenUntil: number;
	/** Index of the line that is being read, if one is. */
	picked: number | null;
	/** A line is pointed at, or picked so that it stays; null lets it go. */
	onPick: (index: number | null, stays: boolean) => void;
	/** How a line reads, for those who listen. */
	says: (line: Line) => string;
}

/** One lane: a line a plant up to sixty, a band beyond. Hover it, or tab to it and use the arrows. */
export function LaneDrawing({
	lane,
	lines,
	pace,
	clock,
	seenUntil,
	picked,
	onPick,
	says,
}: LaneDrawingProps) {
	const silk = useSilk(lane.silk);
	const isBand = lines.length > MOST_LINES;
	const height = isBand ? 84 : Math.min(108, Math.max(56, lines.length * 4.2));
	const ink = silk?.ink ?? "var(--moss)";
	const most = lines.length - 1;
	const line = picked === null ? undefined : lines[picked];
	const label = describe(lane, clock);

	function at(e: PointerEvent<HTMLDivElement> | MouseEvent<HTMLDivElement>): number | null {
		const box = e.currentTarget.getBoundingClientRect();
		const y = ((e.clientY - box.top) / box.height) * (height + 8) - 4;
		return most < 0 ? null : Math.min(most, Math.max(0, Math.floor((y / height) * lines.length)));
	}
	function key(e: KeyboardEvent) {
		const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10 }[e.key];
		const to = { Home: 0, End: most }[e.key];
		if (e.key === "Escape") onPick(null, true);
		if (step === undefined && to === undefined) return;
		e.preventDefault();
		onPick(Math.min(most, Math.max(0, to ?? (picked ?? -1) + (step ?? 0))), true);
	}

	return (
		<div
			className={styles.drawing}
			role="slider"
			tabIndex={most < 0 ? -1 : 0}
			aria-label={`${label} Arrow keys read it line by line.`}
			aria-orientation="vertical"
			aria-valuemin={1}
			aria-valuemax={Math.max(1, lines.length)}
			aria-valuenow={(picked ?? 0) + 1}
			aria-valuetext={line ? says(line) : label}
			onPointerMove={(e) => onPick(at(e), false)}
			onPointerLeave={() => onPick(null, false)}
			onClick={(e) => onPick(at(e), true)}
			onKeyDown={key}
		>
			<svg
				viewBox={`-8 -4 ${LANE_WIDTH + 16} ${height + 8}`}
				className={styles.drawing}
				aria-hidden
			>
				{clock.ticks.map((t) => (
					<line key={t} x1={t} x2={t} y1={-4} y2={height + 4} stroke="var(--rule)" />
				))}
				<g className={styles.bars}>
					{isBand ? (
						<Band lines={lines} clock={clock} height={height} ink={ink} />
					) : (
						<Lines lines={lines} clock={clock} height={height} ink={ink} />
					)}
				</g>
				{pace && <PaceLine d={stepPath(pace, clock.x, height, seenUntil)} />}
				{line && picked !== null && (
					<rect
						className={styles.picked}
						x={-6}
						width={LANE_WIDTH + 12}
						y={(picked / lines.length) * height - 1}
						height={Math.max(3, height / lines.length + 2)}
					/>
				)}
			</svg>
		</div>
	);
}

/** The control's curve, on a pale edge so that it shows on any silk. */
function PaceLine({ d }: { d: string }) {
	return (
		<>
			<path d={d} fill="none" stroke="var(--card)" strokeWidth="4.5" opacity="0.85" />
			<path d={d} fill="none" stroke="var(--ink)" strokeWidth="2" strokeDasharray="5 3" />
		</>
	);
}

interface InnerProps {
	lines: readonly Span[];
	clock: LaneClock;
	height: number;
	ink: string;
}

function Lines({ lines, clock, height, ink }: InnerProps) {
	const { x } = clock;
	const gap = height / Math.max(1, lines.length);
	const thick = Math.max(1.6, Math.min(10, gap * 0.74));
	return (
		<>
			{lines.map((line, i) => {
				const y = (i + 0.5) * gap;
				const { thinTo, pale, dark, end, endAt } = lineMarks(line);
				const cross = Math.min(4, Math.max(2.4, gap * 0.45));
				const bar = { y: y - thick / 2, height: thick, fill: ink };
				return (
					<g key={`${line.unit ?? 0}-${i}`}>
						<line x1={0} x2={x(thinTo)} y1={y} y2={y} stroke="var(--soil)" strokeWidth={1} />
						{pale && (
							<rect
								{...bar}
								className={styles.pale}
								x={x(pale[0])}
								width={x(pale[1]) - x(pale[0])}
								opacity={0.35}
							/>
						)}
						{dark && (
							<rect {...bar} x={x(dark[0])} width={Math.max(1.5, x(dark[1]) - x(dark[0]))} />
						)}
						{end === "lost" && (
							<path
								d={`M${x(endAt) - cross} ${y - cross}l${2 * cross} ${2 * cross}M${x(endAt) + cross} ${y - cross}l${-2 * cross} ${2 * cross}`}
								stroke="var(--loss)"
								strokeWidth="1.8"
							/>
						)}
						{end === "removed" && (
							<path
								d={`M${x(endAt)} ${y - gap / 2}v${gap}`}
								stroke="var(--ink)"
								strokeWidth="2.4"
							/>
						)}
						{end === "waiting" && (
							<circle
								cx={x(endAt)}
								cy={y}
								r={Math.min(3, Math.max(1.6, gap * 0.4))}
								fill="var(--card)"
								stroke="var(--ink)"
								strokeWidth="1"
							/>
						)}
					</g>
				);
			})}
		</>
	);
}

function Band({ lines, clock, height, ink }: InnerProps) {
	const marks = lines.map(lineMarks);
	const surely = cumulative(marks.map((m) => m.dark?.[0] ?? null));
	const perhaps = cumulative(marks.map((m) => m.pale?.[0] ?? null));
	const lost = cumulative(marks.map((m) => (m.dark || m.end !== "lost" ? null : m.endAt)));
	return (
		<>
			<rect x={0} y={0} width={LANE_WIDTH} height={height} fill="none" stroke="var(--soil)" />
			<path
				d={stepArea(perhaps, clock.x, LANE_WIDTH, height)}
				fill={ink}
				className={styles.pale}
				opacity={0.35}
			/>
			<path d={stepArea(surely, clock.x, LANE_WIDTH, height)} fill={ink} />
			<path
				d={stepArea(lost, clock.x, LANE_WIDTH, height, true)}
				fill="var(--loss)"
				opacity={0.75}
			/>
		</>
	);
}

function describe(lane: Lane, clock: LaneClock): string {
	const half = lane.half
		? `half ${lane.done} between day ${lane.half.after} and day ${lane.half.by}`
		: "half not reached";
	return `${lane.name}: ${lane.struck} of ${lane.n} ${lane.done} by day ${clock.lastDay}, ${half}, ${lane.lost} lost, ${lane.removed} removed.`;
}

/** A lane before the curtain is drawn: its lines in grey. */
export function BlindDrawing({ lane, clock }: { lane: Schemas["BlindLane"]; clock: LaneClock }) {
	const isBand = lane.lines.length > MOST_LINES;
	const height = isBand ? 84 : Math.min(108, Math.max(56, lane.lines.length * 4.2));
	const inner = { lines: lane.lines, clock, height, ink: "var(--ink)" };
	return (
		<svg
			viewBox={`-8 -4 ${LANE_WIDTH + 16} ${height + 8}`}
			className={styles.drawing}
			role="img"
			aria-label={`Lane ${lane.number}: ${lane.struck} of ${lane.n} reached the goal by day ${clock.lastDay}, ${lane.lost} lost.`}
		>
			{clock.ticks.map((t) => (
				<line key={t} x1={t} x2={t} y1={-4} y2={height + 4} stroke="var(--rule)" />
			))}
			{isBand ? <Band {...inner} /> : <Lines {...inner} />}
		</svg>
	);
}

/** A lane without days: the share struck as a bar, the control's share as a dashed mark. */
export function ShareBar({ lane, pace }: { lane: Lane; pace: Lane | undefined }) {
	const silk = useSilk(lane.silk);
	const share = (lane.rate ?? 0) * LANE_WIDTH;
	const mark = (pace?.rate ?? 0) * LANE_WIDTH;
	return (
		<svg
			viewBox={`-8 -4 ${LANE_WIDTH + 16} 38`}
			className={styles.drawing}
			role="img"
			aria-label={`${lane.name}: ${lane.struck} of ${lane.n - lane.removed} ${lane.done}, ${lane.lost} lost.`}
		>
			<rect x="0" y="4" width={LANE_WIDTH} height="22" fill="none" stroke="var(--soil)" />
			<rect x="0" y="4" width={share} height="22" fill={silk?.ink ?? "var(--moss)"} />
			{pace && <PaceLine d={`M${mark} -2V32`} />}
		</svg>
	);
}
