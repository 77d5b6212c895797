import { UnstyledButton } from "@mantine/core";
import type { Key, RoundUnit } from "@/api/client";
import { Sheet } from "@/ui/Sheet";
import styles from "./Rounds.module.css";

export interface FillRowProps {
	/** The units of the row that were not looked at yet. */
	units: readonly RoundUnit[];
	/** What the last tap said. */
	last: Key | undefined;
	isOpen: boolean;
	onFill: () => void;
	onClose: () => void;
}

/** Asks once before a whole row is entered alike; what it enters is marked as entered as a row. */
export function FillRow({ units, last, isOpen, onFill, onClose }: FillRowProps) {
	const codes = units.map((u) => u.cell.code).join(", ");
	return (
		<Sheet opened={isOpen} onClose={onClose} title="Fill row">
			{!last ? (
				<p>Enter one plant of the row first</p>
			) : units.length === 0 ? (
				<p>Every plant in this row has been looked at</p>
			) : (
				<>
					<p>
						Did you look at {units.length === 1 ? "it" : `all ${units.length}`}, and{" "}
						{units.length === 1 ? "is it" : "are all of them"}{" "}
						<strong>{last.name.toLowerCase()}</strong>?
						<br />
						{codes}. The log will say “filled by row”.
					</p>
					<div className={styles.ask}>
						<UnstyledButton data-autofocus onClick={onFill}>
							Yes, save {units.length}
						</UnstyledButton>
						<UnstyledButton onClick={onClose}>No</UnstyledButton>
					</div>
				</>
			)}
		</Sheet>
	);
}
