import { useEffect, useMemo, useRef, useState } from "react";
import type { Key, Ladder, Reference, Round, RoundUnit, Trial } from "@/api/client";
import { dateOfDay } from "@/core/text";
import { sidesSay } from "@/core/words";
import { useSearchParams } from "@/ui/routing";
import { useOpensAlone } from "@/ui/useOpensAlone";
import { type Beside, BesideSheet } from "./BesideSheet";
import { ConflictCard } from "./ConflictCard";
import { CountPanel } from "./CountPanel";
import { FillRow } from "./FillRow";
import { JumpBox } from "./JumpBox";
import { KeySheet } from "./KeySheet";
import { LeaveGuard } from "./LeaveGuard";
import { LiftPanel } from "./LiftPanel";
import styles from "./Rounds.module.css";
import {
	backFrom,
	hasRoots,
	nextOpen,
	ORDERS,
	type Order,
	orderOf,
	restOfRow,
	type Tap,
	tally,
	tapOf,
} from "./round";
import { ScanBox } from "./ScanBox";
import { SecondPanel } from "./SecondPanel";
import { SharedScorePanel } from "./SharedScorePanel";
import { StagePanel } from "./StagePanel";
import { Tray } from "./Tray";
import { UnitLog } from "./UnitLog";
import type { useRound } from "./useRound";
import { useRoundKeys } from "./useRoundKeys";
import { useWakeLock } from "./useWakeLock";
import { WaitingLine } from "./WaitingLine";
import { WhoField } from "./WhoField";

export interface RoundDeskProps {
	trial: Trial;
	round: Round;
	ladder: Ladder;
	reference: Reference;
	log: ReturnType<typeof useRound>;
}

type Mode = "look" | "lift" | "second";
const MODES: Record<Mode, string> = {
	look: "Looks",
	lift: "Lift and score",
	second: "Second scorer",
};
const ORDER_WORDS: Record<Order, string> = {
	rows: "row by row",
	snake: "zigzag",
	shuffled: "random",
};

/** The tray, one cursor, one key or tap a unit; the panel under the thumb. */
export function RoundDesk({ trial, round, ladder, reference, log }: RoundDeskProps) {
	const { plan } = trial;
	useWakeLock();
	const bench = useRef<HTMLElement>(null);
	useEffect(() => {
		if (window.innerWidth <= 700) bench.current?.scrollIntoView({ block: "start" });
	}, []);
	const opensAlone = useOpensAlone();
	const [params] = useSearchParams();
	const [mode, setMode] = useState<Mode>("look");
	const [lookOrder, setLookOrder] = useState<Order>(
		() => (localStorage.getItem("racecard.order") as Order | null) ?? "rows",
	);
	const [byNew, setByNew] = useState(() => localStorage.getItem("racecard.counts") === "new");
	const [isHelp, setHelp] = useState(false);
	const [isFilling, setFilling] = useState(false);
	const [isScanning, setScanning] = useState(false);
	const [beside, setBeside] = useState<Beside | null>(null);
	const [last, setLast] = useState<Key>();
	const order = mode === "look" ? lookOrder : "shuffled";
	const path = useMemo(() => orderOf(round, order), [round, order]);
	const isCounting = plan.per_container > 1;
	const isOpenIn = (m: Mode) => (u: RoundUnit) =>
		m === "look" ? !u.current : m === "lift" ? !u.score : u.second && u.second_score === null;
	const [cursor, setCursor] = useState(() => {
		const scanned = round.units.findIndex((u) => u.id === params.get("unit"));
		if (scanned >= 0) return scanned;
		return firstOpen(round, path, isOpenIn("look"));
	});
	const jumpField = useRef<HTMLInputElement>(null);
	const unit = round.units[cursor];
	const figures = tally(round, plan.endpoint);
	const goOn = (from: RoundUnit) =>
		setCursor(nextOpen(round.units, cursor, (u) => u.id !== from.id && isOpenIn(mode)(u), path));
	const tap = (what: Tap) => {
		if (!unit) return;
		if (what.kind === "look") setLast(keyOfTap(what, ladder));
		void log.tap(unit, what);
		goOn(unit);
	};
	const scoreAgain = (score: number) => {
		if (!unit) return;
		void log.write({
			kind: "second",
			scope: "unit",
			target: unit.id,
			what: "",
			values: { score },
			text: "",
		});
		goOn(unit);
	};
	const undo = () => {
		const id = log.undo();
		const at = round.units.findIndex((u) => u.id === id);
		if (at >= 0) setCursor(at);
	};
	const rest = restOfRow(round.units, cursor);
	const fill = () => {
		if (last)
			for (const u of rest) void log.tap(u, { ...tapOf(last, NO_FLAGS), as_row: true } as Tap);
		setFilling(false);
		const filled = new Set(rest.map((u) => u.id));
		setCursor(nextOpen(round.units, cursor, (u) => !filled.has(u.id) && isOpenIn(mode)(u), path));
	};
	const chooseOrder = (next: Order) => {
		setLookOrder(next);
		localStorage.setItem("racecard.order", next);
	};
	const chooseMode = (next: Mode) => {
		setMode(next);
		const by = orderOf(round, next === "look" ? lookOrder : "shuffled");
		setCursor(firstOpen(round, by, isOpenIn(next)));
	};
	const panelKeys = useRoundKeys({
		units: round.units,
		cursor,
		setCursor,
		back: () => setCursor(backFrom(path, cursor)),
		undo,
		help: () => setHelp(true),
		jump: () => jumpField.current?.focus(),
		again: () => last && !isCounting && mode === "look" && tap(tapOf(last, NO_FLAGS)),
		fill: () => !isCounting && mode === "look" && setFilling(true),
		order: () => chooseOrder(ORDERS[(ORDERS.indexOf(lookOrder) + 1) % ORDERS.length] ?? "rows"),
		beside: setBeside,
	});
	const since = round.previous_day === null ? "" : ` since day ${round.previous_day}`;
	const things = isCounting ? "pots" : "units";
	const modes = (["look", ...(hasRoots(plan) ? ["lift", "second"] : [])] as Mode[]).filter(
		(m) => m !== "second" || !isCounting,
	);
	const due = round.units.filter((u) => u.lift && !u.gone);
	const draft = `${trial.id}.${round.day}.${unit?.id}`;
	const panel = { unit: unit as RoundUnit, plan, onTap: tap, keys: panelKeys, draft };
	return (
		<div className={styles.desk}>
			<LeaveGuard round={round} plan={plan} waiting={log.waiting} opensAlone={opensAlone} />
			<section ref={bench} className={styles.bench} aria-label="The bench">
				<div className={styles.head}>
					<h2>
						Round of day {round.day}
						{trial.started_on ? `, ${dateOfDay(trial.started_on, round.day)}` : ""}
					</h2>
					<span className="muted">
						{sidesSay(plan.sides)}
						{plan.blind ? " · scored blind" : ""}
					</span>
					{round.stamp && <span className={styles.past}>past round</span>}
					{modes.length > 1 && (
						<div className={styles.modes} role="group" aria-label="Entries">
							{modes.map((m) => (
								<button
									key={m}
									type="button"
									aria-pressed={mode === m}
									onClick={() => chooseMode(m)}
								>
									{MODES[m]}
								</button>
							))}
						</div>
					)}
				</div>
				{round.missed_says && <p className={styles.cost}>{round.missed_says}</p>}
				{due.length > 0 && mode === "look" && (
					<p className={styles.cost}>
						To lift today, chosen at random: {due.map((u) => u.cell.code).join(", ")}. Enter the
						stage, then “Removed”; they leave the trial.
					</p>
				)}
				<Tray
					round={round}
					ladder={ladder}
					plan={plan}
					cursor={cursor}
					mode={mode}
					onPick={setCursor}
				/>
				<div className={styles.foot}>
					<strong>
						{figures.seen} of {figures.due} {things} looked at
					</strong>
					<div
						className={styles.bar}
						role="progressbar"
						aria-label="Looked at"
						aria-valuemin={0}
						aria-valuemax={figures.due}
						aria-valuenow={figures.seen}
					>
						<div style={{ width: `${figures.due ? (100 * figures.seen) / figures.due : 0}%` }} />
					</div>
					<span className={styles.fresh}>
						{figures.fresh} new{since}
					</span>
				</div>
				<WaitingLine outbox={log.outbox} isComplete={figures.isComplete} opensAlone={opensAlone} />
				<div className={styles.tools}>
					<label>
						Order <kbd>o</kbd>
						<select
							value={order}
							disabled={mode !== "look"}
							onChange={(e) => chooseOrder(e.currentTarget.value as Order)}
						>
							{ORDERS.map((o) => (
								<option key={o} value={o}>
									{ORDER_WORDS[o]}
								</option>
							))}
						</select>
					</label>
					{isCounting && (
						<label>
							Counts{" "}
							<select
								value={byNew ? "new" : "all"}
								onChange={(e) => {
									setByNew(e.currentTarget.value === "new");
									localStorage.setItem("racecard.counts", e.currentTarget.value);
								}}
							>
								<option value="all">all so far</option>
								<option value="new">new since last look</option>
							</select>
						</label>
					)}
					<JumpBox units={round.units} field={jumpField} onJump={setCursor} />
					<button type="button" onClick={() => setScanning(true)}>
						Scan label
					</button>
					<WhoField />
					<button type="button" onClick={() => setHelp(true)}>
						Keys <kbd>?</kbd>
					</button>
				</div>
				<KeySheet
					ladder={ladder}
					isCounting={isCounting}
					isOpen={isHelp}
					onClose={() => setHelp(false)}
				/>
				<FillRow
					units={rest}
					last={last}
					isOpen={isFilling}
					onFill={fill}
					onClose={() => setFilling(false)}
				/>
				<ScanBox
					units={round.units}
					isOpen={isScanning}
					onClose={() => setScanning(false)}
					onFound={(i) => {
						setScanning(false);
						setCursor(i);
					}}
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
					<ConflictCard
						unit={unit}
						ladder={ladder}
						onSettle={(take) => void log.settle(unit, take)}
					/>
					{mode === "second" ? (
						<SecondPanel
							trialId={trial.id}
							unit={unit}
							reference={reference}
							onScore={scoreAgain}
							keys={panelKeys}
						/>
					) : mode === "lift" ? (
						isCounting ? (
							<SharedScorePanel key={unit.id} {...panel} reference={reference} />
						) : (
							<LiftPanel key={unit.id} {...panel} reference={reference} />
						)
					) : isCounting ? (
						<CountPanel key={`${unit.id}${byNew}`} {...panel} ladder={ladder} byNew={byNew} />
					) : (
						<StagePanel
							key={unit.id}
							{...panel}
							ladder={ladder}
							onHelped={() => helped(log, unit).then(() => {})}
						/>
					)}
					<div className={styles.backs}>
						<button type="button" onClick={() => setCursor(backFrom(path, cursor))}>
							<span>
								Back<i> one</i>
							</span>{" "}
							<kbd>Backspace</kbd>
						</button>
						<button
							type="button"
							onClick={undo}
							disabled={!log.canUndo}
							title={log.canUndo ? undefined : "Nothing was entered here yet that could be undone."}
						>
							Undo <kbd>z</kbd>
						</button>
						{!isCounting && mode === "look" && (
							<button type="button" onClick={() => setFilling(true)}>
								Fill row <kbd>f</kbd>
							</button>
						)}
						<button type="button" onClick={() => setBeside("event")}>
							<span>
								Event<i>, note, photo …</i>
							</span>{" "}
							<kbd>e</kbd>
						</button>
					</div>
					<BesideSheet
						key={`beside-${unit.id}`}
						draft={draft}
						open={beside}
						onOpen={setBeside}
						trialId={trial.id}
						round={round}
						unit={unit}
						plan={plan}
						outbox={log.outbox}
						reference={reference}
						onWrite={log.write}
						onPhoto={log.photo}
						onTakeBack={log.takeBack}
						onTap={(id, what) => {
							const of = round.units.find((u) => u.id === id);
							if (of) void log.tap(of, what);
						}}
					/>
				</aside>
			)}
		</div>
	);
}

/** The first unit of the order that waits, or the first of all. */
function firstOpen(
	round: Round,
	order: readonly number[],
	isOpen: (u: RoundUnit) => boolean,
): number {
	const at = order.find((i) => {
		const u = round.units[i];
		return u && !u.gone && isOpen(u);
	});
	return at ?? order[0] ?? 0;
}

const NO_FLAGS = { shoot: false, wilted: false };

/** A seedling freed from its coat by hand: an event of its own beside what it showed. */
function helped(log: RoundDeskProps["log"], unit: RoundUnit) {
	return log.write({
		kind: "event",
		scope: "unit",
		target: unit.id,
		what: "helped",
		values: {},
		text: "",
	});
}

function keyOfTap(tap: Tap & { kind: "look" }, ladder: Ladder): Key | undefined {
	if (tap.loss) return ladder.exits.find((e) => e.cause === tap.loss);
	if (tap.removed) return ladder.exits.find((e) => e.cause === "removed");
	return ladder.stages.find((s) => s.code === tap.stage);
}
