import type { Comparison, Finish, Lane } from "@/api/client";
import { dayScale, ticks } from "@/core/lanes";
import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { SilkSquare } from "@/ui/SilkSquare";
import { Figures } from "./Figures";
import styles from "./Finish.module.css";
import { LaneDrawing, ShareBar } from "./LaneDrawing";

export const LANE_WIDTH = 430;

const ROLE_WORDS = {
	control: "control",
	carrier: "carrier control",
	positive: "positive control",
	negative: "negative control",
	standard: "standard",
	candidate: "",
} as const;

/** The lanes: one a treatment, one line a plant, the control's curve drawn through every other. */
export function Lanes({ finish, kind }: { finish: Finish; kind: "cutting" | "seed" }) {
	const lastDay = Math.max(finish.length_days, finish.day);
	const reference = finish.lanes.find((l) => l.treatment === finish.reference);
	const by = new Map(finish.comparisons.map((c) => [c.treatment, c]));
	const seen = kind === "cutting" ? "roots" : "it";
	const most = Math.max(...finish.lanes.map((l) => l.n));
	return (
		<Card
			title={
				!finish.timed
					? "Struck of all stuck"
					: kind === "cutting"
						? "Roots first seen, day by day"
						: "First seen, day by day"
			}
			aside={
				!finish.timed
					? "the table gives no days, so nothing is said of time; dashed: the control"
					: most > 60
						? `one band a treatment; the pale part runs from the last look without ${seen} to the first look with`
						: `one line a ${kind}; the pale bar runs from the last look without ${seen} to the first look with`
			}
		>
			<div
				className={`${styles.lanes} ${finish.lanes.some((l) => l.score_counts) ? "" : styles.noScores}`}
			>
				<div className={`${styles.lane} ${styles.heads}`} aria-hidden>
					<span />
					<span />
					<span>struck</span>
					<span>half struck by</span>
					{finish.lanes.some((l) => l.score_counts) && <span>root score</span>}
					<span>against control</span>
				</div>
				{finish.lanes.map((lane) => (
					<OneLane
						key={lane.treatment}
						lane={lane}
						comparison={by.get(lane.treatment)}
						pace={lane === reference ? undefined : reference}
						lastDay={lastDay}
						finish={finish}
					/>
				))}
				{finish.timed && (
					<div className={`${styles.lane} ${styles.axisRow}`}>
						<span className={styles.axisName}>day</span>
						<Axis lastDay={lastDay} />
					</div>
				)}
			</div>
			{finish.timed && <Legend hasPace={reference !== undefined} />}
		</Card>
	);
}

interface OneLaneProps {
	lane: Lane;
	comparison: Comparison | undefined;
	pace: Lane | undefined;
	lastDay: number;
	finish: Finish;
}

function OneLane({ lane, comparison, pace, lastDay, finish }: OneLaneProps) {
	const role = ROLE_WORDS[lane.role];
	const removed = lane.removed ? `, ${lane.removed} removed` : "";
	return (
		<section className={styles.lane} aria-label={lane.name}>
			<div className={styles.name}>
				<SilkSquare id={lane.silk} size={32} />
				<div>
					<h3 dir="auto">{lane.name}</h3>
					{role && <p className={styles.role}>{role}</p>}
					<p className="muted">
						{lane.struck} of {lane.n - lane.removed} struck{removed} · {lane.lost} lost
						{lane.units !== lane.n ? ` · ${count(lane.units, "container")}` : ""}
						{lane.per_stem === null ? "" : ` · ${lane.per_stem.toFixed(1)} from a mother stem`}
					</p>
				</div>
			</div>
			{finish.timed ? (
				<LaneDrawing lane={lane} pace={pace} lastDay={lastDay} seenUntil={finish.day} />
			) : (
				<ShareBar lane={lane} pace={pace} />
			)}
			<Figures lane={lane} comparison={comparison} finish={finish} />
		</section>
	);
}

function Axis({ lastDay }: { lastDay: number }) {
	const x = dayScale(lastDay, LANE_WIDTH);
	return (
		<svg viewBox={`-8 0 ${LANE_WIDTH + 16} 20`} className={styles.axis} aria-hidden>
			{ticks(lastDay).map((d) => (
				<text key={d} x={x(d)} y={14} textAnchor="middle">
					{d}
				</text>
			))}
		</svg>
	);
}

function Legend({ hasPace }: { hasPace: boolean }) {
	return (
		<p className={styles.legend}>
			<svg width="40" height="12" aria-hidden>
				<rect x="0" y="4" width="18" height="5" fill="var(--moss)" opacity="0.35" />
				<rect x="18" y="4" width="22" height="5" fill="var(--moss)" />
			</svg>
			struck ·
			<svg width="14" height="12" aria-hidden>
				<path d="M3 2l8 8M11 2l-8 8" stroke="var(--loss)" strokeWidth="2" />
			</svg>
			lost ·
			<svg width="14" height="12" aria-hidden>
				<path d="M7 1v10" stroke="var(--ink)" strokeWidth="2.4" />
			</svg>
			removed ·
			<svg width="14" height="12" aria-hidden>
				<circle cx="7" cy="6" r="3" fill="var(--card)" stroke="var(--ink)" strokeWidth="1.2" />
			</svg>
			still waiting
			{hasPace && (
				<>
					{" "}
					·
					<svg width="34" height="12" aria-hidden>
						<path d="M0 6H34" stroke="var(--ink)" strokeWidth="2" strokeDasharray="5 3" />
					</svg>
					pace line: the control's curve
				</>
			)}
		</p>
	);
}
