import type { Comparison, Finish, Lane } from "@/api/client";
import { chance, dayOf, decimal, difference, percent, span } from "@/core/text";
import { Range } from "@/ui/chart/Chart";
import { Why } from "@/ui/Why";
import styles from "./Finish.module.css";

export interface FiguresProps {
	lane: Lane;
	comparison: Comparison | undefined;
	finish: Finish;
	/** Another milestone than the endpoint is shown: no scores, no verdict. */
	bare?: boolean;
}

/** The figures beside a lane: strike with its doubt, half struck by, root score, verdict. */
export function Figures({ lane, comparison, finish, bare = false }: FiguresProps) {
	const hasScores = finish.lanes.some((l) => l.score_mean_all !== null) && !bare;
	return (
		<>
			<StrikeFigure lane={lane} />
			<div className={styles.figure}>
				<span className={styles.small}>
					half {lane.done}
					{lane.half ? " by" : ":"}{" "}
				</span>
				<HalfFigure lane={lane} timed={finish.timed} />
			</div>
			{hasScores && (
				<div className={styles.figure}>
					<ScoreFigure lane={lane} comparison={comparison} />
				</div>
			)}
			<div className={styles.verdict}>
				{comparison ? (
					<Verdict comparison={comparison} lane={lane} unit={finish.unit} />
				) : bare ? null : (
					<span className="muted">
						{finish.reference === null
							? "no control"
							: lane.treatment === finish.reference
								? "control (its curve is the pace line)"
								: ""}
					</span>
				)}
			</div>
		</>
	);
}

function HalfFigure({ lane, timed }: { lane: Lane; timed: boolean }) {
	if (!timed) return <span className="muted">no dates</span>;
	if (lane.horizon === 0) return <span className="muted">not looked at yet</span>;
	const counted = lane.n - lane.removed - lane.unknown - lane.at_start;
	const [low, high] = lane.half_limits;
	const doubt =
		low == null || lane.struck === counted || (low === high && low === lane.half?.by)
			? ""
			: high == null
				? low === lane.half?.by
					? "perhaps later"
					: `not before day ${dayOf(low)}`
				: `day ${dayOf(low)} to ${dayOf(high)}`;
	return (
		<Why
			method="half"
			label={
				lane.half
					? `Half ${lane.done} by day ${dayOf(lane.half.by)}`
					: `Half ${lane.done}: not reached`
			}
			data={
				lane.half
					? `half of all ${counted} ${lane.done} some time after day ${dayOf(lane.half.after)} and by day ${dayOf(lane.half.by)}.${doubt ? ` The 95 % limits of the curve cross one half: ${doubt}.` : ""}`
					: `${lane.struck} of ${counted} ${lane.done}; half was not reached.`
			}
		>
			<strong>{lane.half ? `day ${dayOf(lane.half.by)}` : "not reached"}</strong>{" "}
			{lane.half && (
				<span className={`muted ${styles.below}`}>
					{doubt || (lane.half.after ? `after day ${lane.half.after}` : "")}
				</span>
			)}
		</Why>
	);
}

function StrikeFigure({ lane }: { lane: Lane }) {
	if (lane.horizon === 0) return <div className={styles.figure}>not looked at yet</div>;
	if (lane.rate === null) return <div className={styles.figure}>none left</div>;
	const leftOut = [
		lane.removed && `${lane.removed} removed`,
		lane.unknown && `${lane.unknown} not known`,
		lane.at_start && `${lane.at_start} already so on day 0`,
		lane.sampled && `${lane.sampled} lifted as a sample`,
	]
		.filter(Boolean)
		.join(", ");
	const limits = lane.interval;
	const known = limits !== null && limits.low !== null && limits.high !== null;
	const pooled =
		lane.rate_pooled !== null && Math.abs(lane.rate_pooled - lane.rate) > 0.005
			? `; all plants together ${percent(lane.rate_pooled)}`
			: "";
	const data = `${lane.struck} of ${lane.n} ${lane.done}${leftOut ? ` (${leftOut})` : ""}${lane.estimated ? ", rate estimated from the curve" : ""}${lane.units !== lane.n ? ` in ${lane.units} containers, worth about ${Math.round(lane.effective_n ?? 0)} single plants` : ""}${pooled}.`;
	return (
		<div className={styles.figure}>
			<span className={styles.small}>{lane.done} </span>
			<Why
				method={known ? limits.method : "curve"}
				label={`Strike ${percent(lane.rate)}`}
				data={known ? data : `${data} ${limits?.reason ?? ""}`}
			>
				<span className={styles.big}>{percent(lane.rate)}</span>{" "}
				{lane.estimated && <span className="muted">estimated, </span>}
				{leftOut && <span className="muted">{leftOut} </span>}
				{known && limits.low !== null && limits.high !== null && (
					<span className="muted">{span(limits.low, limits.high)}</span>
				)}
			</Why>
			{known && limits.low !== null && limits.high !== null ? (
				<svg viewBox="-4 0 108 10" className={styles.whisker} aria-hidden>
					<line x1="0" x2="100" y1="5" y2="5" stroke="var(--rule)" strokeWidth="3" />
					<Range at={5} from={100 * limits.low} to={100 * limits.high} />
					<circle cx={100 * lane.rate} cy="5" r="4" fill="var(--moss)" stroke="var(--ink)" />
				</svg>
			) : (
				<p className={styles.reason}>no interval</p>
			)}
		</div>
	);
}

function ScoreFigure({ lane, comparison }: { lane: Lane; comparison: Comparison | undefined }) {
	if (lane.score_mean_all === null) return <span className="muted">not scored</span>;
	const struck =
		lane.score_mean_struck === null
			? ""
			: ` Of those that ${lane.done}: mean ${decimal(lane.score_mean_struck, 1)}.`;
	const odds =
		comparison?.superiority == null
			? ""
			: ` A random one of these scores above a random control ${percent(comparison.superiority)} of the time, ties half.`;
	return (
		<>
			<span className={styles.small}>{lane.score_word} </span>
			<Why
				method="quality"
				label={`${lane.score_word} ${decimal(lane.score_mean_all, 1)} ${lane.score_unit}`}
				data={`${lane.score_counts ? `scores 0 to 5 were given to ${lane.score_counts.join(", ")} plants` : "lost plants count as 0"}; the mean of all is only a summary.${struck}${odds}${lane.unscored ? ` ${lane.unscored} not ${lane.score_counts ? "scored" : "measured"}.` : ""}`}
			>
				<strong>{decimal(lane.score_mean_all, 1)}</strong>{" "}
				<span className="muted">{lane.score_unit}</span>
			</Why>
		</>
	);
}

const SIDE: Record<NonNullable<Comparison["grade"]>, string | undefined> = {
	clear_lead: styles.lead,
	likely_lead: styles.likely,
	clearly_behind: styles.behind,
	likely_behind: styles.likelyBehind,
	too_close_to_call: undefined,
	level: styles.level,
	cannot_tell_by_design: styles.cannot,
};

interface VerdictProps {
	comparison: Comparison;
	lane: Lane;
	unit: string;
}

function Verdict({ comparison: c, lane, unit }: VerdictProps) {
	const { gap } = c.outcome;
	if (c.grade === null) return <span className={styles.reason}>{c.grade_words}</span>;
	return (
		<>
			<Why
				method={c.grade === "cannot_tell_by_design" ? "floor" : "lot"}
				label={`${lane.name}: ${c.grade_words}`}
				data={`${c.sentence} ${testData(c)}`}
			>
				<span className={`${styles.badge} ${SIDE[c.grade] ?? ""}`}>{c.grade_words}</span>
			</Why>
			{c.harm && <span className={`${styles.badge} ${styles.harm}`}>harm: {lane.lost} lost</span>}
			{!c.harm && c.possible_harm && (
				<span className={styles.reason}>possible harm: {lane.lost} lost</span>
			)}
			{gap && (
				<Why
					method={gap.low === null ? "lot" : gap.method}
					label={`Difference ${difference(gap.estimate, unit)}`}
					data={gapData(c, unit)}
				>
					<span>{difference(gap.estimate, unit)}</span>
				</Why>
			)}
		</>
	);
}

function testData(c: Comparison): string {
	if (c.p === null || c.p_holm === null || c.minimum_p_holm === null) return "";
	const how = c.p_exact ? "every assignment counted" : "from random permutations";
	return `p ${chance(c.p)}, after Holm's correction ${chance(c.p_holm)} (${how}); smallest possible ${chance(c.minimum_p_holm)}.`;
}

function gapData(c: Comparison, unit: string): string {
	const { gap } = c.outcome;
	if (!gap) return "";
	const isShare = unit === "points";
	const ratio =
		c.ratio === null || !isShare ? "" : ` Ratio: ${decimal(c.ratio, 1)} times the control.`;
	const size = Math.abs(gap.estimate);
	const one =
		isShare && size >= 0.01
			? ` One ${gap.estimate > 0 ? "more" : "fewer"} for every ${Math.round(1 / size)} that were set.`
			: "";
	const isOpen = c.grade !== null && !c.grade.startsWith("clear") && c.grade !== "level";
	const settled = isOpen && c.settle ? ` To settle it: ${c.settle.says}.` : "";
	if (gap.low === null || gap.high === null)
		return `No reliable interval: ${gap.reason}.${ratio}${settled}`;
	const broken = c.broken_interval
		? " The interval excludes 0, but the test corrected for several comparisons does not agree. The grade follows the test."
		: "";
	const few = gap.reason ? ` ${gap.reason}.` : "";
	return `between ${difference(gap.low, unit)} and ${difference(gap.high, unit)}, 95 in 100.${few}${broken}${one}${ratio}${settled}`;
}
