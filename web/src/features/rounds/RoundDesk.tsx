import { useEffect, useRef } from "react";
import type { Reference, Round, StageScale, Trial } from "@/api/client";
import { useOpensAlone } from "@/ui/useOpensAlone";
import { DeskHead } from "./DeskHead";
import { DeskProgress } from "./DeskProgress";
import { DeskTools } from "./DeskTools";
import { LeaveGuard } from "./LeaveGuard";
import styles from "./Rounds.module.css";
import { tally } from "./round";
import { Tray } from "./Tray";
import { UnitPanel } from "./UnitPanel";
import { useDesk } from "./useDesk";
import type { useRound } from "./useRound";
import { useTouches } from "./useTouches";
import { useWakeLock } from "./useWakeLock";
import { WaitingLine } from "./WaitingLine";

export interface RoundDeskProps {
	trial: Trial;
	round: Round;
	ladder: StageScale;
	reference: Reference;
	log: ReturnType<typeof useRound>;
}

/** The tray, one cursor, one key or tap a unit; the panel under the thumb. */
export function RoundDesk(props: RoundDeskProps) {
	const { trial, round, ladder, log } = props;
	const { plan } = trial;
	useWakeLock();
	const whole = useRef<HTMLDivElement>(null);
	useTouches(whole);
	const bench = useRef<HTMLElement>(null);
	useEffect(() => {
		if (window.innerWidth <= 700) bench.current?.scrollIntoView({ block: "start" });
	}, []);
	const opensAlone = useOpensAlone();
	const desk = useDesk(plan, round, ladder, log);
	const { isComplete } = tally(round, plan.endpoint);
	return (
		<div ref={whole} className={styles.desk}>
			<LeaveGuard round={round} plan={plan} waiting={log.waiting} opensAlone={opensAlone} />
			<section ref={bench} className={styles.bench} aria-label="The bench">
				<DeskHead trial={trial} round={round} desk={desk} />
				<Tray
					round={round}
					ladder={ladder}
					plan={plan}
					cursor={desk.cursor}
					mode={desk.mode}
					onPick={desk.goTo}
				/>
				<DeskProgress round={round} endpoint={plan.endpoint} isCounting={desk.isCounting} />
				<WaitingLine
					outbox={log.outbox}
					isComplete={isComplete}
					opensAlone={opensAlone}
					fault={log.error}
					toldAt={log.dataUpdatedAt}
				/>
				<DeskTools round={round} ladder={ladder} desk={desk} />
			</section>
			{desk.unit && <UnitPanel {...props} unit={desk.unit} desk={desk} />}
		</div>
	);
}
