import type { Finish } from "@/api/client";
import { Card } from "@/ui/Card";
import { StewardsNotes } from "@/ui/StewardsNotes";
import styles from "./Finish.module.css";
import { Lanes } from "./Lanes";
import { Promised } from "./Promised";
import { ScoreCounts } from "./ScoreCounts";

/** A judgement: headline, lanes, what it can say, stewards' notes, root scores. */
export function FinishBody({ finish, kind }: { finish: Finish; kind: "cutting" | "seed" }) {
	return (
		<div className={styles.page}>
			<p className={styles.headline}>{finish.headline}</p>
			<Lanes finish={finish} kind={kind} />
			<div className={styles.below}>
				<Card title="What this trial can say">
					<ul className={styles.says}>
						{finish.says.map((s) => (
							<li key={s}>{s}</li>
						))}
					</ul>
				</Card>
				<StewardsNotes notes={finish.notes} none="No objections." />
			</div>
			<Promised finish={finish} />
			{finish.lanes.some((l) => l.score_counts) && <ScoreCounts finish={finish} />}
		</div>
	);
}
