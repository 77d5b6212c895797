import { Chart, Range } from "./chart/Chart";
import { linear } from "./chart/scale";
import styles from "./ForestMark.module.css";

export interface ForestMarkProps {
	gap: number | null;
	low: number | null;
	high: number | null;
	grade: string;
}

const WIDTH = 130;
const MID = 14;
const KIND: Record<string, string | undefined> = {
	clear_lead: styles.lead,
	likely_lead: styles.lead,
	clearly_behind: styles.behind,
	likely_behind: styles.behind,
};

/** One result at a glance: the difference in points around 0, its range, open where nothing is called. */
export function ForestMark({ gap, low, high, grade }: ForestMarkProps) {
	const x = linear([-100, 100], [6, WIDTH - 6]);
	const kind = KIND[grade] ?? styles.open;
	return (
		<Chart width={WIDTH} height={2 * MID} className={styles.mark}>
			<line x1={x(0)} x2={x(0)} y1="2" y2={2 * MID - 2} className={styles.zero} />
			{low !== null && high !== null && (
				<Range at={MID} from={x(100 * low)} to={x(100 * high)} className={kind} />
			)}
			{gap !== null && (
				<circle
					cx={x(100 * gap)}
					cy={MID}
					r="4.5"
					className={`${kind} ${low === null ? styles.hollow : ""}`}
				/>
			)}
		</Chart>
	);
}
