import { useEffect, useRef } from "react";
import type { Key, RoundUnit } from "@/api/client";
import { count } from "@/core/text";
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
	const yes = useRef<HTMLButtonElement>(null);
	useEffect(() => {
		if (isOpen) setTimeout(() => yes.current?.focus());
	}, [isOpen]);
	const codes = units.map((u) => u.cell.code).join(", ");
	return (
		<Sheet opened={isOpen} onClose={onClose} title="Fill the row">
			{!last ? (
				<p>Enter one plant of the row first: the row is filled with what it was.</p>
			) : units.length === 0 ? (
				<p>Every plant of this row was looked at already.</p>
			) : (
				<>
					<p>
						Did you look at {units.length === 1 ? "it" : `all ${units.length}`}, and{" "}
						{units.length === 1 ? "is it" : "are they all"}{" "}
						<strong>{last.name.toLowerCase()}</strong>?
						<br />
						{codes}. The log will say “entered as a row”.
					</p>
					<div className={styles.ask}>
						<button type="button" ref={yes} onClick={onFill}>
							Yes, enter {count(units.length, "plant")}
						</button>
						<button type="button" onClick={onClose}>
							No
						</button>
					</div>
				</>
			)}
		</Sheet>
	);
}
