import { useEffect } from "react";
import type { RoundUnit } from "@/api/client";
import styles from "./Rounds.module.css";
import { SCORE_WORDS, type Tap } from "./round";
import type { PanelKeys } from "./useRoundKeys";

export interface ScorePanelProps {
	unit: RoundUnit;
	onTap: (tap: Tap) => void;
	keys: PanelKeys;
}

/** Root scores at the lift: one digit a plant. The lost count as 0 without being scored. */
export function ScorePanel({ unit, onTap, keys }: ScorePanelProps) {
	useEffect(() => {
		keys.current = (pressed) => {
			if (!/^[0-5]$/.test(pressed)) return false;
			onTap({ kind: "score", score: Number(pressed) });
			return true;
		};
		return () => {
			keys.current = () => false;
		};
	});
	return (
		<>
			<h2 className={styles.unit}>
				{unit.cell.code}
				{unit.cell.label ? ` · ${unit.cell.label}` : ""}{" "}
				<small>
					{unit.score
						? `scored ${unit.score.score}`
						: unit.gone
							? "lost: counts as 0"
							: "not scored yet"}
				</small>
			</h2>
			<div className={styles.keys}>
				{SCORE_WORDS.map((says, score) => (
					<button
						key={says}
						type="button"
						className={`${styles.key} ${unit.score?.score === score ? styles.on : ""}`}
						onClick={() => onTap({ kind: "score", score })}
					>
						<span className={styles.keyText}>
							<strong>{score}</strong>
							<span>{says}</span>
						</span>
						<kbd>{score}</kbd>
					</button>
				))}
			</div>
			<p className="muted">
				The highest score whose every point is met; six long roots on one side are a 2.
			</p>
		</>
	);
}
