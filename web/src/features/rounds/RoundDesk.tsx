import { useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { Ladder, Round, Trial } from "@/api/client";
import { count, dateOfDay } from "@/core/text";
import { sidesSay } from "@/core/words";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { CountPanel } from "./CountPanel";
import { JumpBox } from "./JumpBox";
import { KeySheet } from "./KeySheet";
import styles from "./Rounds.module.css";
import { nextOpen, type Tap, tally } from "./round";
import { ScorePanel } from "./ScorePanel";
import { StagePanel } from "./StagePanel";
import { Tray } from "./Tray";
import { UnitLog } from "./UnitLog";
import type { useRound } from "./useRound";
import { useRoundKeys } from "./useRoundKeys";
import { useWakeLock } from "./useWakeLock";
import { WhoField } from "./WhoField";

export interface RoundDeskProps {
	trial: Trial;
	round: Round;
	ladder: Ladder;
	log: ReturnType<typeof useRound>;
}

/** The tray, one cursor, one key or tap a unit; the panel under the thumb. */
export function RoundDesk({ trial, round, ladder, log }: RoundDeskProps) {
	const { plan } = trial;
	useWakeLock();
	const [isScoring, setScoring] = useState(false);
	const [isHelp, setHelp] = useState(false);
	const [params] = useSearchParams();
	const jumpField = useRef<HTMLInputElement>(null);
	const [cursor, setCursor] = useState(() => {
		const scanned = round.units.findIndex((u) => u.id === params.get("unit"));
		if (scanned >= 0) return scanned;
		return Math.max(
			0,
			nextOpen(round.units, -1, (u) => !u.current),
		);
	});
	const unit = round.units[cursor];
	const figures = tally(round, plan.endpoint);
	const isCounting = plan.per_container > 1;
	const tap = (what: Tap) => {
		if (!unit) return;
		log.tap(unit, what);
		const isOpen =
			what.kind === "score" ? (u: typeof unit) => !u.score : (u: typeof unit) => !u.current;
		setCursor(nextOpen(round.units, cursor, (u) => u.id !== unit.id && isOpen(u)));
	};
	const undo = () => {
		const id = log.undo();
		const at = round.units.findIndex((u) => u.id === id);
		if (at >= 0) setCursor(at);
	};
	const panelKeys = useRoundKeys({
		units: round.units,
		cursor,
		setCursor,
		undo,
		help: () => setHelp(true),
		jump: () => jumpField.current?.focus(),
	});
	const since = round.previous_day === null ? "" : ` since day ${round.previous_day}`;
	const things = isCounting ? "pots" : "units";
	return (
		<div className={styles.desk}>
			<section className={styles.bench} aria-label="The bench">
				<div className={styles.head}>
					<h2>
						Round of day {round.day}
						{trial.started_on ? `, ${dateOfDay(trial.started_on, round.day)}` : ""}
					</h2>
					<span className="muted">
						{sidesSay(plan.sides)}
						{plan.blind ? " · scored blind" : ""}
						{round.stamp ? " · an earlier day" : ""}
					</span>
					{plan.kind === "cutting" && !isCounting && (
						<button
							type="button"
							className={styles.mode}
							aria-pressed={isScoring}
							onClick={() => setScoring(!isScoring)}
						>
							Root scores, 0–5
						</button>
					)}
					<JumpBox units={round.units} field={jumpField} onJump={setCursor} />
				</div>
				<Tray
					round={round}
					ladder={ladder}
					plan={plan}
					cursor={cursor}
					isScoring={isScoring}
					onPick={setCursor}
				/>
				<div className={styles.foot}>
					<strong>
						{figures.seen} of {figures.due} {things} looked at
					</strong>
					<div
						className={styles.bar}
						role="progressbar"
						aria-label="Units looked at"
						aria-valuemin={0}
						aria-valuemax={figures.due}
						aria-valuenow={figures.seen}
					>
						<div style={{ width: `${figures.due ? (100 * figures.seen) / figures.due : 0}%` }} />
					</div>
					<span className={styles.fresh}>
						{figures.fresh} newly struck{since}
					</span>
				</div>
				<p className="muted" role="status">
					{log.waiting > 0
						? `${count(log.waiting, "tap")} kept on this device, ${log.isOut ? "the shed does not answer; it is tried again" : "being sent"}.`
						: figures.isComplete
							? "Round complete: every unit with something left to see was looked at."
							: "All taps are in the shed. A unit left grey counts as not looked at."}
				</p>
				<ProblemAlert error={log.refused} />
				<div className={styles.after}>
					<WhoField />
					<button type="button" className={styles.logButton} onClick={() => setHelp(true)}>
						keys <kbd>?</kbd>
					</button>
				</div>
				<KeySheet
					ladder={ladder}
					isCounting={isCounting}
					isOpen={isHelp}
					onClose={() => setHelp(false)}
				/>
			</section>
			{unit && (
				<aside
					className={`${styles.panel} ${isCounting ? styles.countPanel : ""}`}
					aria-label={`Unit ${unit.cell.code}`}
				>
					<UnitLog
						key={`log-${unit.id}`}
						trialId={trial.id}
						unitId={unit.id}
						code={unit.cell.code}
						ladder={ladder}
					/>
					{isScoring ? (
						<ScorePanel unit={unit} onTap={tap} keys={panelKeys} />
					) : isCounting ? (
						<CountPanel
							key={unit.id}
							unit={unit}
							plan={plan}
							ladder={ladder}
							onTap={tap}
							keys={panelKeys}
						/>
					) : (
						<StagePanel
							key={unit.id}
							unit={unit}
							plan={plan}
							ladder={ladder}
							onTap={tap}
							keys={panelKeys}
						/>
					)}
					<div className={styles.backs}>
						<button type="button" onClick={() => setCursor(Math.max(0, cursor - 1))}>
							<span>
								Back<i> one</i>
							</span>{" "}
							<kbd>Backspace</kbd>
						</button>
						<button type="button" onClick={undo} disabled={!log.canUndo}>
							Undo <kbd>z</kbd>
						</button>
					</div>
				</aside>
			)}
		</div>
	);
}
