import { NativeSelect } from "@mantine/core";
import { useState } from "react";
import type { Comparison, Finish, Lane, Schemas } from "@/api/client";
import { cumulative } from "@/core/lanes";
import { lineSays, type Order, ordered } from "@/core/lines";
import { count, decimal } from "@/core/text";
import { inUnits } from "@/core/units";
import { Card } from "@/ui/Card";
import { PhoneFold } from "@/ui/PhoneFold";
import { Link } from "@/ui/routing";
import { SilkSquare } from "@/ui/SilkSquare";
import { Term } from "@/ui/Term";
import { useUnits } from "@/ui/useUnits";
import { didOf } from "./did";
import { Figures } from "./Figures";
import styles from "./Finish.module.css";
import { LANE_WIDTH, LaneDrawing, type Line, ShareBar } from "./LaneDrawing";
import { type LaneClock, useClock } from "./useClock";

const ROLE_WORDS = {
	control: "control",
	carrier: "carrier control",
	positive: "positive control",
	negative: "negative control",
	standard: "standard",
	candidate: "",
} as const;

export interface LanesProps {
	finish: Finish;
	kind: "cutting" | "seed";
	/** The heat clock, where a temperature is watched. */
	heat?: Schemas["HeatOut"] | null;
	/** Lanes of another stage to show in place of the endpoint's, with what chooses it. */
	milestone?: { name: string; lanes: Lane[] } | null;
	chooseMilestone?: React.ReactNode;
	/** Where the log of a unit stands, by its code. */
	logOf?: (code: string) => string;
}

/** The lanes: one a treatment, one line a plant, the control's curve drawn through every other. */
export function Lanes({ finish, kind, heat, milestone, chooseMilestone, logOf }: LanesProps) {
	const [order, setOrder] = useState<Order>("time");
	const [struckOnly, setStruckOnly] = useState(false);
	const [byHeat, setByHeat] = useState(false);
	const [picked, setPicked] = useState<{ lane: number; index: number; stays: boolean } | null>(
		null,
	);
	const pick = (lane: number, index: number | null, stays: boolean) =>
		setPicked((was) => {
			if (was?.stays && !stays) return was;
			return index === null ? null : { lane, index, stays };
		});
	const base = inUnits("°C", useUnits().system);
	const lastDay = Math.max(finish.length_days, finish.day);
	const clock = useClock(lastDay, LANE_WIDTH, heat, byHeat);
	const lanes = milestone?.lanes ?? finish.lanes;
	const reference = lanes.find((l) => l.treatment === finish.reference);
	const by = new Map(finish.comparisons.map((c) => [c.treatment, c]));
	const did = didOf({ lanes });
	const seen = did === "rooted" ? "roots" : "it";
	const most = Math.max(...lanes.map((l) => l.n));
	const hasScores = finish.lanes.some((l) => l.score_mean_all !== null) && !milestone;
	const shown = new Map(
		lanes.map((l) => [l.treatment, ordered(l.lines, order, finish.cells, struckOnly)]),
	);
	const reading = picked ? shown.get(picked.lane)?.[picked.index] : undefined;
	const says = (line: Line) => lineSays(line, finish.cells[line.unit]);
	const tools = (
		<div className={styles.tools}>
			<NativeSelect
				label="Sort by"
				size="sm"
				value={order}
				onChange={(e) => setOrder(e.currentTarget.value as Order)}
				data={
					finish.cells.length > 0
						? [
								{ value: "time", label: "time" },
								{ value: "place", label: "position" },
								{ value: "block", label: "block" },
							]
						: [{ value: "time", label: "time" }]
				}
			/>
			<NativeSelect
				label="Shown"
				size="sm"
				value={struckOnly ? "struck" : "all"}
				onChange={(e) => setStruckOnly(e.currentTarget.value === "struck")}
				data={[
					{ value: "all", label: kind === "seed" ? "all sown" : "all stuck" },
					{ value: "struck", label: `only those that ${did}` },
				]}
			/>
			{heat && (
				<NativeSelect
					label="Clock"
					size="sm"
					value={byHeat ? "heat" : "days"}
					onChange={(e) => setByHeat(e.currentTarget.value === "heat")}
					data={[
						{ value: "days", label: "days" },
						{
							value: "heat",
							label: `degree-days above ${decimal(base.show(heat.base), 0)} ${base.unit}`,
						},
					]}
				/>
			)}
			{chooseMilestone}
		</div>
	);
	return (
		<Card
			title={
				milestone
					? `${milestone.name}, first seen`
					: !finish.timed
						? `How many ${did}`
						: `Lanes: when each ${kind === "seed" ? "one" : "plant"} ${did}`
			}
			aside={
				<span className={finish.timed ? styles.explained : undefined}>
					{!finish.timed
						? "the table has no days, so times are not shown; dashed: control"
						: most > 60
							? `one band per treatment; pale: between the last look without ${seen} and the first look with`
							: `one line per ${kind}; pale bar: between the last look without ${seen} and the first look with`}
				</span>
			}
		>
			{finish.timed && <PhoneFold title="Sort and choose">{tools}</PhoneFold>}
			{struckOnly && (
				<p className={styles.warn}>
					Comparing only those that {did} is not a fair comparison. The verdict counts all.
				</p>
			)}
			<div className={`${styles.lanes} ${hasScores ? "" : styles.noScores}`}>
				<div className={`${styles.lane} ${styles.heads}`} aria-hidden>
					<span />
					<span />
					<span>{did}</span>
					<span>half {did} by</span>
					{hasScores && <span>{lanes[0]?.score_word}</span>}
					<span>{milestone ? "" : "difference from control"}</span>
				</div>
				{lanes.map((lane) => (
					<OneLane
						key={lane.treatment}
						lane={lane}
						lines={shown.get(lane.treatment) ?? []}
						comparison={milestone ? undefined : by.get(lane.treatment)}
						pace={lane === reference || order !== "time" ? undefined : reference}
						struckOnly={struckOnly}
						clock={clock}
						finish={finish}
						bare={Boolean(milestone)}
						picked={picked?.lane === lane.treatment ? picked.index : null}
						onPick={(i, stays) => pick(lane.treatment, i, stays)}
						says={says}
					/>
				))}
				{finish.timed && (
					<div className={`${styles.lane} ${styles.axisRow}`}>
						<span className={styles.axisName}>{clock.name}</span>
						<Axis clock={clock} />
					</div>
				)}
			</div>
			{finish.timed && (
				<p className={`${styles.reading} no-print`}>
					{reading ? (
						<>
							{says(reading)}
							{logOf && finish.cells[reading.unit] && (
								<>
									{" "}
									·{" "}
									<Link to={logOf(finish.cells[reading.unit]?.code ?? "")}>
										Looks, notes and photos
									</Link>
								</>
							)}
						</>
					) : (
						<>
							<span className={styles.byHand}>Tap a line to read one plant</span>
							<span className={styles.byKey}>
								Click a line to read one plant, or tab to a lane and use the arrow keys
							</span>
						</>
					)}
				</p>
			)}
			{finish.timed && <Legend done={did} hasPace={reference !== undefined} />}
		</Card>
	);
}

interface OneLaneProps {
	lane: Lane;
	lines: readonly Line[];
	comparison: Comparison | undefined;
	pace: Lane | undefined;
	struckOnly: boolean;
	clock: LaneClock;
	finish: Finish;
	/** Another milestone is shown: no verdict, no scores. */
	bare: boolean;
	picked: number | null;
	onPick: (index: number | null, stays: boolean) => void;
	says: (line: Line) => string;
}

function OneLane(props: OneLaneProps) {
	const counts = `${props.lane.struck} of ${props.lane.n} ${props.lane.done}${leftOut(props.lane)}`;
	const { lane, lines, comparison, pace, struckOnly, clock, finish, bare } = props;
	const role = ROLE_WORDS[lane.role];
	const plantable = lane.plantable === null ? "" : ` · ${lane.plantable} plantable`;
	const paceCurve =
		pace &&
		(struckOnly ? cumulative(pace.lines.map((l) => l.by).filter((by) => by !== null)) : pace.curve);
	return (
		<section className={styles.lane} aria-label={lane.name}>
			<div className={styles.name}>
				<SilkSquare id={lane.silk} size={32} />
				<div>
					<h3 dir="auto">{lane.name}</h3>
					{role && <p className={styles.role}>{role}</p>}
					<p className="muted">
						{lane.horizon === 0 ? `${lane.n} set, not looked at` : counts} · {lane.lost} lost ·{" "}
						{lane.alive} alive
						{lane.units !== lane.n ? ` · ${count(lane.units, "container")}` : ""}
						{plantable}
						{lane.per_stem === null ? "" : ` · ${decimal(lane.per_stem, 1)} per stem`}
					</p>
				</div>
			</div>
			{finish.timed ? (
				<LaneDrawing
					lane={lane}
					lines={lines}
					pace={paceCurve}
					clock={clock}
					seenUntil={finish.day}
					picked={props.picked}
					onPick={props.onPick}
					says={props.says}
				/>
			) : (
				<ShareBar lane={lane} pace={pace} />
			)}
			<Figures lane={lane} comparison={comparison} finish={finish} bare={bare} />
		</section>
	);
}

function Axis({ clock }: { clock: LaneClock }) {
	return (
		<svg viewBox={`-8 0 ${LANE_WIDTH + 16} 20`} className={styles.axis} aria-hidden>
			{clock.ticks.map((x, i) => (
				<text key={x} x={x} y={14} textAnchor="middle">
					{clock.labels[i]}
				</text>
			))}
		</svg>
	);
}

function Legend({ hasPace, done }: { hasPace: boolean; done: string }) {
	return (
		<p className={styles.legend}>
			<svg width="40" height="12" aria-hidden>
				<rect x="0" y="4" width="18" height="5" fill="var(--moss)" opacity="0.35" />
				<rect x="18" y="4" width="22" height="5" fill="var(--moss)" />
			</svg>
			{done} ·
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
			not yet
			{hasPace && (
				<>
					{" "}
					·
					<svg width="34" height="12" aria-hidden>
						<path d="M0 6H34" stroke="var(--ink)" strokeWidth="2" strokeDasharray="5 3" />
					</svg>
					<Term name="pace line">pace line (the control’s curve)</Term>
				</>
			)}
		</p>
	);
}

/** What was left out of the count, in brackets. */
function leftOut(lane: Lane): string {
	const told = [
		[lane.removed, "removed"],
		[lane.unknown, "not known"],
		[lane.at_start, "already so on day 0"],
	].filter(([n]) => n);
	return told.length ? ` (${told.map((t) => t.join(" ")).join(", ")})` : "";
}
