import { memo, useEffect, useMemo, useRef, useState } from "react";
import type { PlanRead, Round, RoundUnit, StageScale } from "@/api/client";
import { SilkSquare } from "@/ui/SilkSquare";
import { StageDrawing } from "@/ui/StageDrawing";
import { Band } from "./Band";
import styles from "./Rounds.module.css";
import { keyOf, standAlike, traysOf } from "./round";
import { useColumnsSeen } from "./useColumnsSeen";

/** Benches up to here are painted whole, so that the browser can search them. */
const ALL_AT_ONCE = 600;

export interface TrayProps {
	round: Round;
	ladder: StageScale;
	plan: PlanRead;
	cursor: number;
	mode: "look" | "lift" | "second";
	onPick: (i: number) => void;
}

/** The bench from above as it stands: the last stage faintly until this round's look is entered. */
export function Tray({ round, ladder, plan, cursor, mode, onPick }: TrayProps) {
	const [stood, setStood] = useState(round.units); // a tap moves nobody, so the bands need not be cut again
	if (!standAlike(stood, round.units)) setStood(round.units);
	const trays = useMemo(() => traysOf(stood), [stood]);
	const columns = useMemo(() => Math.max(...stood.map((u) => u.col)) + 1, [stood]);
	const box = useRef<HTMLElement>(null);
	// biome-ignore lint/correctness/useExhaustiveDependencies: the cursor is what moves it
	useEffect(() => {
		const active = box.current?.querySelector<HTMLElement>("[aria-current]");
		active?.scrollIntoView({ block: "nearest", inline: "nearest" });
		if (document.activeElement instanceof HTMLElement && document.activeElement.dataset.cell)
			active?.focus();
	}, [cursor]);
	const isSmall = round.units.length <= ALL_AT_ONCE;
	const [from, to] = useColumnsSeen(box, columns, isSmall);
	const isSeen = (i: number) => {
		const col = round.units[i]?.col ?? 0;
		return i === cursor || (from <= col && col <= to);
	};
	const gridTemplateColumns = `22px repeat(${columns}, minmax(52px, 1fr))`;
	return (
		<section className={styles.trays} aria-label="Trays" ref={box}>
			{trays.map(({ tray, bands }) => (
				<div key={tray} className={styles.bands}>
					<div className={styles.tray} style={{ gridTemplateColumns }}>
						{trays.length > 1 && (
							<h3 className={styles.trayName}>{plan.tray_names[tray] || `Tray ${tray + 1}`}</h3>
						)}
						<span />
						{Array.from({ length: columns }, (_, c) => (
							<span key={`col${c + 1}`} className={styles.axis}>
								{c + 1}
							</span>
						))}
					</div>
					{bands.map((band) => (
						<Band
							key={band.first}
							rows={band.rows.length}
							isAlways={isSmall || band.at.has(cursor)}
							className={styles.tray}
							style={{ gridTemplateColumns }}
						>
							{() =>
								band.rows.map((row, r) => [
									<span
										key={`row${r + 1}`}
										className={styles.axis}
										style={{ gridArea: `${r + 1} / 1` }}
									>
										{rowLetters(round.units[row[0] ?? 0]?.row ?? 0)}
									</span>,
									...row
										.filter(isSeen)
										.map((i) => (
											<CellAt
												key={i}
												unit={round.units[i] as RoundUnit}
												line={r + 1}
												ladder={ladder}
												plan={plan}
												mode={mode}
												isActive={i === cursor}
												at={i}
												onPick={onPick}
											/>
										)),
								])
							}
						</Band>
					))}
				</div>
			))}
		</section>
	);
}

interface CellAtProps {
	unit: RoundUnit;
	/** Which line of its band it stands in. */
	line: number;
	ladder: StageScale;
	plan: PlanRead;
	mode: TrayProps["mode"];
	isActive: boolean;
	at: number;
	onPick: (i: number) => void;
}

/** One place; drawn anew only where what is seen of it changed. */
const CellAt = memo(function CellAt(props: CellAtProps) {
	const { unit: u, line, ladder, plan, mode, isActive, at, onPick } = props;
	const isScoring = mode !== "look";
	const mark = mode === "second" ? u.second_score : (u.score?.score ?? (u.score ? "✓" : null));
	const isSeen = isScoring ? mark !== null : u.current !== null;
	const hasMoved = u.tray !== u.cell.tray || u.row !== u.cell.row || u.col !== u.cell.col;
	const shown = u.current ?? u.previous;
	const key = keyOf(shown, ladder);
	const state = u.gone ? styles.gone : isSeen ? styles.seen : styles.waiting;
	const says = word(u, key?.name, mode, mark, plan);
	const silk =
		isScoring || u.cell.treatment === null ? undefined : plan.treatments[u.cell.treatment]?.silk;
	return (
		<button
			type="button"
			data-cell={u.cell.code}
			className={`${styles.cell} ${state} ${isActive ? styles.active : ""}`}
			style={{ gridArea: `${line} / ${u.col + 2}` }}
			aria-current={isActive ? "true" : undefined}
			tabIndex={isActive ? 0 : -1}
			onClick={() => onPick(at)}
		>
			{silk && (
				<span className={styles.silk}>
					<SilkSquare id={silk} size={13} />
				</span>
			)}
			{(u.conflict || u.lift || hasMoved) && (
				<span className={styles.flagged} aria-hidden>
					{u.conflict ? "two" : u.lift ? "lift" : u.cell.code}
				</span>
			)}
			{plan.per_container > 1 && !isScoring ? (
				<CountFace unit={u} sown={u.held} faint={!isSeen} />
			) : isScoring ? (
				<span aria-hidden className={styles.score}>
					{mark ?? (mode === "second" && !u.second ? "" : "·")}
				</span>
			) : (
				<StageDrawing
					name={key?.drawing ?? ladder.stages[0]?.drawing ?? ""}
					shoot={shown?.shoot}
					faint={!isSeen}
				/>
			)}
			<span className={styles.word}>
				<span className="visually-hidden">{u.cell.code}: </span>
				{says}
				<span className="visually-hidden">
					{u.gone ? ", gone" : isSeen ? "" : ", not looked at in this round"}
					{u.conflict ? ", two looks differ" : ""}
					{u.lift ? ", to lift today" : ""}
					{hasMoved ? `, moved here, its label says ${u.cell.code}` : ""}
				</span>
			</span>
		</button>
	);
});

function CountFace({ unit: u, sown, faint }: { unit: RoundUnit; sown: number; faint: boolean }) {
	const o = u.current ?? u.previous;
	const struck = o?.struck ?? 0;
	return (
		<span aria-hidden className={styles.countFace} style={{ opacity: faint ? 0.6 : 1 }}>
			<strong>{o ? struck : "·"}</strong>
			<span className={styles.pips}>
				{sown <= 30 &&
					Array.from({ length: sown }, (_, i) => (
						<span
							key={`pip${i + 1}`}
							className={i < struck ? styles.up : i >= sown - (o?.lost ?? 0) ? styles.down : ""}
						/>
					))}
			</span>
		</span>
	);
}

const SHORT: Record<string, string> = {
	"No change": "no change",
	"First root": "first root",
	"Seed leaves open": "leaves open",
	"First true leaf": "true leaf",
	"Cause unknown": "lost",
};

/** Row 0 is A, 25 is Z, 26 is AA. */
function rowLetters(row: number): string {
	const rest = Math.floor(row / 26);
	return (rest > 0 ? rowLetters(rest - 1) : "") + String.fromCharCode(65 + (row % 26));
}

function word(
	u: RoundUnit,
	name: string | undefined,
	mode: TrayProps["mode"],
	mark: number | string | null,
	plan: PlanRead,
): string {
	if (mode === "second" && !u.second) return "not drawn";
	if (mode !== "look") return mark !== null ? `score ${mark}` : u.gone ? "lost" : "no score";
	if (plan.per_container > 1) {
		const o = u.current ?? u.previous;
		if (!o) return "not counted yet";
		return `${u.current ? "" : "was "}${o.struck ?? 0} of ${u.held}`;
	}
	const short = name
		? (SHORT[name] ?? name.toLowerCase())
		: plan.kind === "seed"
			? "as sown"
			: "as stuck";
	const wilted = (u.current ?? u.previous)?.wilted ? ", limp" : "";
	return `${u.current || u.gone ? "" : "was "}${short}${wilted}`;
}
