import { Button } from "@mantine/core";
import { count } from "@/core/text";
import styles from "./Tables.module.css";

export interface WorkingProps {
	/** Rows read so far. */
	rows: number;
	onStop: () => void;
}

/** A long table on its way: how far it is, and a way to stop it. */
export function Working({ rows, onStop }: WorkingProps) {
	return (
		<div className={styles.working} role="status">
			<progress aria-label="Reading the table" />
			<p>
				{rows > 0 ? `${count(rows, "row")} read so far.` : "Reading the table."} A long table takes
				up to a minute; the rounds continue meanwhile.
			</p>
			<Button variant="default" onClick={onStop}>
				Stop
			</Button>
		</div>
	);
}
