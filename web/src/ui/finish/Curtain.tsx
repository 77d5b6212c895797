import type { Schemas } from "@/api/client";
import styles from "./Finish.module.css";
import { BlindDrawing, LANE_WIDTH } from "./LaneDrawing";
import { dayClock } from "./useClock";

/** The lanes before the curtain is drawn: how the race went, not who ran it. */
export function Curtain({ lanes, lastDay }: { lanes: Schemas["BlindLane"][]; lastDay: number }) {
	const clock = dayClock(lastDay, LANE_WIDTH);
	return (
		<div className={styles.lanes}>
			{lanes.map((lane) => (
				<section key={lane.number} className={styles.blindLane} aria-label={`Lane ${lane.number}`}>
					<div>
						<h3>Lane {lane.number}</h3>
						<p className="muted">
							{lane.struck} of {lane.n - lane.removed} struck · {lane.lost} lost
						</p>
					</div>
					<BlindDrawing lane={lane} clock={clock} />
				</section>
			))}
		</div>
	);
}
