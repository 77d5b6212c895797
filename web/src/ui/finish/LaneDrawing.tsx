import type { Lane } from "@/api/client";
import { cumulative, dayScale, MOST_LINES, stepArea, stepPath, ticks } from "@/core/lanes";
import { useSilk } from "@/ui/reference";
import styles from "./Finish.module.css";
import { LANE_WIDTH } from "./Lanes";

export interface LaneDrawingProps {
	lane: Lane;
	/** The control's lane, whose curve is drawn through this one. */
	pace: Lane | undefined;
	lastDay: number;
	/** The last day on which all were looked at; the pace line ends there. */
	seenUntil: number;
}

/** One lane: a line a plant up to sixty, a band beyond. */
export function LaneDrawing({ lane, pace, lastDay, seenUntil }: LaneDrawingProps) {
	const silk = useSilk(lane.silk);
	const isBand = lane.lines.length > MOST_LINES;
	const height = isBand ? 84 : Math.min(108, Math.max(56, lane.lines.length * 4.2));
	const x = dayScale(lastDay, LANE_WIDTH);
	const ink = silk?.ink ?? "var(--moss)";
	const label = describe(lane, lastDay);
	return (
		<svg
			viewBox={`-8 -4 ${LANE_WIDTH + 16} ${height + 8}`}
			className={styles.drawing}
			role="img"
			aria-label={label}
		>
			{ticks(lastDay).map((d) => (
				<line key={d} x1={x(d)} x2={x(d)} y1={-4} y2={height + 4} stroke="var(--rule)" />
			))}
			{isBand ? (
				<Band lane={lane} lastDay={lastDay} height={height} ink={ink} />
			) : (
				<Lines lane={lane} lastDay={lastDay} height={height} ink={ink} />
			)}
			{pace && <PaceLine d={stepPath(pace.curve, lastDay, LANE_WIDTH, height, seenUntil)} />}
		</svg>
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
	lane: Lane;
	lastDay: number;
	height: number;
	ink: string;
}

function Lines({ lane, lastDay, height, ink }: InnerProps) {
	const x = dayScale(lastDay, LANE_WIDTH);
	const gap = height / Math.max(1, lane.lines.length);
	const thick = Math.max(1.6, Math.min(10, gap * 0.74));
	return (
		<>
			{lane.lines.map((line, i) => {
				const y = (i + 0.5) * gap;
				const end = line.lost ?? line.removed ?? (line.by === null ? line.last : lastDay);
				const cross = Math.min(4, Math.max(2.4, gap * 0.45));
				return (
					<g key={i}>
						<line
							x1={0}
							x2={x(line.by ?? end)}
							y1={y}
							y2={y}
							stroke="var(--soil)"
							strokeWidth={1}
						/>
						{line.by !== null && (
							<>
								<rect
									x={x(line.after ?? 0)}
									y={y - thick / 2}
									width={x(line.by) - x(line.after ?? 0)}
									height={thick}
									fill={ink}
									opacity={0.35}
								/>
								<rect
									x={x(line.by)}
									y={y - thick / 2}
									width={Math.max(1.5, x(line.lost ?? Math.max(line.last, line.by)) - x(line.by))}
									height={thick}
									fill={ink}
								/>
							</>
						)}
						{line.lost !== null && (
							<path
								d={`M${x(line.lost) - cross} ${y - cross}l${2 * cross} ${2 * cross}M${x(line.lost) + cross} ${y - cross}l${-2 * cross} ${2 * cross}`}
								stroke="var(--loss)"
								strokeWidth="1.8"
							/>
						)}
						{line.removed !== null && (
							<path
								d={`M${x(line.removed)} ${y - gap / 2}v${gap}`}
								stroke="var(--ink)"
								strokeWidth="2.4"
							/>
						)}
						{line.by === null && line.lost === null && line.removed === null && (
							<circle
								cx={x(line.last)}
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

function Band({ lane, lastDay, height, ink }: InnerProps) {
	const surely = cumulative(lane.lines, (l) => l.by);
	const perhaps = cumulative(lane.lines, (l) => (l.by === null ? null : (l.after ?? 0)));
	const lost = cumulative(lane.lines, (l) => (l.by === null ? l.lost : null));
	return (
		<>
			<rect x={0} y={0} width={LANE_WIDTH} height={height} fill="none" stroke="var(--soil)" />
			<path d={stepArea(perhaps, lastDay, LANE_WIDTH, height)} fill={ink} opacity={0.35} />
			<path d={stepArea(surely, lastDay, LANE_WIDTH, height)} fill={ink} />
			<path
				d={stepArea(lost, lastDay, LANE_WIDTH, height, true)}
				fill="var(--loss)"
				opacity={0.75}
			/>
		</>
	);
}

function describe(lane: Lane, lastDay: number): string {
	const half = lane.half
		? `half struck between day ${lane.half.after} and day ${lane.half.by}`
		: "half not reached";
	return `${lane.name}: ${lane.struck} of ${lane.n} struck by day ${lastDay}, ${half}, ${lane.lost} lost, ${lane.removed} removed.`;
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
			aria-label={`${lane.name}: ${lane.struck} of ${lane.n - lane.removed} struck, ${lane.lost} lost.`}
		>
			<rect x="0" y="4" width={LANE_WIDTH} height="22" fill="none" stroke="var(--soil)" />
			<rect x="0" y="4" width={share} height="22" fill={silk?.ink ?? "var(--moss)"} />
			{pace && <PaceLine d={`M${mark} -2V32`} />}
		</svg>
	);
}
