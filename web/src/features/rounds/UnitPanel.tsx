import { UnstyledButton } from "@mantine/core";
import type { RoundUnit } from "@/api/client";
import { BesideSheet } from "./beside/BesideSheet";
import { ConflictCard } from "./ConflictCard";
import { CountPanel } from "./CountPanel";
import { isBeside } from "./desk";
import { LiftPanel } from "./LiftPanel";
import type { RoundDeskProps } from "./RoundDesk";
import styles from "./Rounds.module.css";
import { SecondPanel } from "./SecondPanel";
import { SharedScorePanel } from "./SharedScorePanel";
import { StagePanel } from "./StagePanel";
import { UnitLog } from "./UnitLog";
import type { DeskInUse } from "./useDesk";

export interface UnitPanelProps extends RoundDeskProps {
	unit: RoundUnit;
	desk: DeskInUse;
}

/** The unit under the cursor: what was seen on it, and the keys for what is seen now. */
export function UnitPanel({ trial, round, ladder, reference, log, unit, desk }: UnitPanelProps) {
	const { plan } = trial;
	const { isCounting } = desk;
	const draft = `${trial.id}.${round.day}.${unit.id}`;
	return (
		<aside
			className={`${styles.panel} ${isCounting ? styles.countPanel : ""}`}
			aria-label={`Unit ${unit.cell.code}`}
		>
			<UnitLog trialId={trial.id} unitId={unit.id} code={unit.cell.code} ladder={ladder} />
			<ConflictCard unit={unit} ladder={ladder} onSettle={(take) => void log.settle(unit, take)} />
			<EntryPanel {...{ trial, round, ladder, reference, log, unit, desk }} draft={draft} />
			<div className={styles.backs}>
				<UnstyledButton onClick={desk.back}>
					<span>
						Back<i> one</i>
					</span>{" "}
					<kbd>Backspace</kbd>
				</UnstyledButton>
				<UnstyledButton
					onClick={desk.undo}
					disabled={!log.canUndo}
					title={log.canUndo ? undefined : "Nothing was entered here yet that could be undone."}
				>
					Undo <kbd>z</kbd>
				</UnstyledButton>
				{desk.canRepeat && (
					<UnstyledButton onClick={() => desk.open("fill")}>
						Fill row <kbd>f</kbd>
					</UnstyledButton>
				)}
				<UnstyledButton onClick={() => desk.open("event")}>
					<span>
						Event<i>, note, photo …</i>
					</span>{" "}
					<kbd>e</kbd>
				</UnstyledButton>
			</div>
			<BesideSheet
				draft={draft}
				open={isBeside(desk.over) ? desk.over : null}
				onOpen={desk.open}
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
	);
}

/** The keys of what is entered: a look, counts, a score of roots, the score of a second person. */
function EntryPanel(props: UnitPanelProps & { draft: string }) {
	const { trial, ladder, reference, log, unit, desk, draft } = props;
	const panel = { unit, plan: trial.plan, onTap: desk.tap, keys: desk.keys, draft };
	if (desk.mode === "second")
		return (
			<SecondPanel
				trialId={trial.id}
				unit={unit}
				reference={reference}
				onScore={desk.scoreAgain}
				keys={desk.keys}
			/>
		);
	if (desk.mode === "lift") {
		const Panel = desk.isCounting ? SharedScorePanel : LiftPanel;
		return <Panel key={unit.id} {...panel} reference={reference} />;
	}
	if (desk.isCounting) {
		const { byNew } = desk;
		return <CountPanel key={`${unit.id}${byNew}`} {...panel} ladder={ladder} byNew={byNew} />;
	}
	return (
		<StagePanel {...panel} ladder={ladder} onHelped={() => helped(log, unit).then(() => {})} />
	);
}

/** A seedling freed from its coat by hand: an event of its own beside what it showed. */
function helped(log: RoundDeskProps["log"], unit: RoundUnit) {
	const entry = { kind: "event", scope: "unit", what: "helped", values: {}, text: "" } as const;
	return log.write({ ...entry, target: unit.id });
}
