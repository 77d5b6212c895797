import { useEffect, useRef } from "react";
import type { Ladder, PlanRead, Round, RoundUnit } from "@/api/client";
import { SilkSquare } from "@/ui/SilkSquare";
import { StageDrawing } from "@/ui/StageDrawing";
import styles from "./Rounds.module.css";
import { keyOf } from "./round";

export interface TrayProps {
	round: Round;
	ladder: Ladder;
	plan: PlanRead;
	cursor: number;
	isScoring: boolean;
	onPick: (i: number) => void;
}

/** The bench from above as it stands: the last stage faintly until this round's look is entered. */
export function Tray({ round, ladder, plan, cursor, isScoring, onPick }: TrayProps) {
	const trays = [...new Set(round.units.map((u) => u.cell.tray))];
	const columns = Math.max(...round.units.map((u) => u.cell.col)) + 1;
	const active = useRef<HTMLButtonElement>(null);
	// biome-ignore lint/correctness/useExhaustiveDependencies: the cursor is what moves it
	useEffect(() => {
		active.current?.scrollIntoView({ block: "nearest", inline: "nearest" });
		if (document.activeElement instanceof HTMLElement && document.activeElement.dataset.cell)
			active.current?.focus();
	}, [cursor]);
	return (
		<section className={styles.trays} aria-label="Trays">
			{trays.map((tray) => (
				<div
					key={tray}
					className={styles.tray}
					style={{ gridTemplateColumns: `22px repeat(${columns}, minmax(52px, 1fr))` }}
				>
					{trays.length > 1 && <h3 className={styles.trayName}>Tray {tray + 1}</h3>}
					<span />
					{Array.from({ length: columns }, (_, c) => (
						<span key={`col${c + 1}`} className={styles.axis}>
							{c + 1}
						</span>
					))}
					{round.units.map((u, i) =>
						u.cell.tray !== tray ? null : (
							<CellAt
								key={u.id}
								unit={u}
								isFirst={
									i === 0 ||
									round.units[i - 1]?.cell.row !== u.cell.row ||
									round.units[i - 1]?.cell.tray !== tray
								}
								ladder={ladder}
								plan={plan}
								isScoring={isScoring}
								isActive={i === cursor}
								ref={i === cursor ? active : undefined}
								onPick={() => onPick(i)}
							/>
						),
					)}
				</div>
			))}
		</section>
	);
}

interface CellAtProps {
	unit: RoundUnit;
	isFirst: boolean;
	ladder: Ladder;
	plan: PlanRead;
	isScoring: boolean;
	isActive: boolean;
	ref?: React.Ref<HTMLButtonElement>;
	onPick: () => void;
}

function CellAt({ unit: u, isFirst, ladder, plan, isScoring, isActive, ref, onPick }: CellAtProps) {
	const isSeen = isScoring ? u.score !== null : u.current !== null;
	const shown = u.current ?? u.previous;
	const key = keyOf(shown, ladder);
	const state = u.gone ? styles.gone : isSeen ? styles.seen : styles.waiting;
	const says = word(u, key?.name, isScoring, plan);
	const silk = u.cell.treatment === null ? undefined : plan.treatments[u.cell.treatment]?.silk;
	return (
		<>
			{isFirst && (
				<span className={styles.axis} style={{ gridColumn: 1 }}>
					{u.cell.code.replace(/^\d+-/, "").replace(/\d+$/, "")}
				</span>
			)}
			<button
				type="button"
				ref={ref}
				data-cell={u.cell.code}
				className={`${styles.cell} ${state} ${isActive ? styles.active : ""}`}
				style={{ gridColumn: u.cell.col + 2 }}
				aria-current={isActive ? "true" : undefined}
				tabIndex={isActive ? 0 : -1}
				onClick={onPick}
			>
				{silk && (
					<span className={styles.silk}>
						<SilkSquare id={silk} size={13} />
					</span>
				)}
				{plan.per_container > 1 ? (
					<CountFace unit={u} sown={plan.per_container} faint={!isSeen} />
				) : isScoring ? (
					<span aria-hidden className={styles.score}>
						{u.score?.score ?? "·"}
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
					</span>
				</span>
			</button>
		</>
	);
}

function CountFace({ unit: u, sown, faint }: { unit: RoundUnit; sown: number; faint: boolean }) {
	const o = u.current ?? u.previous;
	const struck = o?.struck ?? 0;
	return (
		<span aria-hidden className={styles.countFace} style={{ opacity: faint ? 0.6 : 1 }}>
			<strong>{struck}</strong>
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
	"Nothing at the base": "no change",
	"No change": "no change",
	"First root": "first root",
	"Seed leaves open": "leaves open",
	"First true leaf": "true leaf",
	"Mouldy or rotted": "mouldy",
};

function word(u: RoundUnit, name: string | undefined, isScoring: boolean, plan: PlanRead): string {
	if (isScoring) return u.score ? `score ${u.score.score}` : u.gone ? "lost" : "no score";
	if (plan.per_container > 1) {
		const o = u.current ?? u.previous;
		return `${u.current ? "" : "was "}${o?.struck ?? 0} of ${plan.per_container}`;
	}
	const short = name ? (SHORT[name] ?? name.toLowerCase()) : "as stuck";
	const wilted = (u.current ?? u.previous)?.wilted ? ", limp" : "";
	return `${u.current || u.gone ? "" : "was "}${short}${wilted}`;
}
