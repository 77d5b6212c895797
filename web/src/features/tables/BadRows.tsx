import { Button } from "@mantine/core";
import type { Table } from "@/api/client";
import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import styles from "./Tables.module.css";
import type { Asked } from "./useReadIn";

export interface BadRowsProps {
	table: Table;
	asked: Asked;
	ask: (next: Asked) => void;
}

/** Every row that breaks a rule, with its place; mend the file, or leave these rows out. */
export function BadRows({ table, asked, ask }: BadRowsProps) {
	const rows = [...new Set(table.bad.map((b) => b.row))];
	const isAllShown = table.bad.length === table.bad_total;
	return (
		<Card title={`${count(table.bad_total, "value")} to correct`} edge="clay">
			<ul className={styles.bad}>
				{table.bad.slice(0, 50).map((b) => (
					<li key={`${b.row} ${b.column} ${b.says}`}>{b.says}</li>
				))}
			</ul>
			{table.bad_total > 50 && <p>… and {table.bad_total - 50} more.</p>}
			{isAllShown ? (
				<Button
					variant="default"
					mt="sm"
					onClick={() => ask({ ...asked, skip: [...asked.skip, ...rows] })}
				>
					Leave {rows.length === 1 ? `row ${rows[0]}` : `these ${rows.length} rows`} out
				</Button>
			) : (
				<p>Correct these in the file.</p>
			)}
		</Card>
	);
}
