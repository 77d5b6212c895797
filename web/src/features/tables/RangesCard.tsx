import type { Table } from "@/api/client";
import { Card } from "@/ui/Card";
import styles from "./Tables.module.css";

/** What holds for every reading of counts that were given in bounds; nothing where all are exact. */
export function RangesCard({ table }: { table: Table }) {
	const ranges = table.ranges ?? [];
	if (ranges.length === 0) return null;
	return (
		<Card title="Counts in bounds">
			<p>
				Some counts are given in bounds, so the result is told only as far as it holds for every
				reading. The numbers below are those of the reading in which the treatments differ least.
			</p>
			<ul className={styles.arms}>
				{ranges.map((r) => (
					<li key={r.treatment}>
						<strong dir="auto">{r.treatment}</strong> {said(r.rate_low, r.rate_high)}
						{r.grade && `: ${r.grade}, for every count that is possible`}
					</li>
				))}
			</ul>
		</Card>
	);
}

function said(low: number, high: number): string {
	const [from, to] = [Math.round(100 * low), Math.round(100 * high)];
	return from === to ? `${from} %` : `${from} to ${to} %`;
}
