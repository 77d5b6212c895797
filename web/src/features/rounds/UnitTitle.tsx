import type { ReactNode } from "react";
import type { RoundUnit } from "@/api/client";
import styles from "./Rounds.module.css";

/** The unit under the cursor: its place, its blind label, and where it stands. */
export function UnitTitle({ unit, children }: { unit: RoundUnit; children: ReactNode }) {
	return (
		<h2 className={styles.unit}>
			{unit.cell.code}
			{unit.cell.label ? ` · ${unit.cell.label}` : ""} <small>{children}</small>
		</h2>
	);
}
