import { UnstyledButton } from "@mantine/core";
import type { Reference } from "@/api/client";
import { RootsDrawing } from "./RootsDrawing";
import styles from "./Rounds.module.css";

export interface ScoreKeysProps {
	label: string;
	reference: Reference;
	/** The score it has. */
	given?: number | null;
	/** The score its parts make. */
	proposed?: number | null;
	isOff?: boolean;
	onScore: (score: number) => void;
}

/** The six root scores, each with its drawing, its words and its digit. */
export function ScoreKeys({ label, reference, given, proposed, isOff, onScore }: ScoreKeysProps) {
	return (
		<div className={styles.scores} role="group" aria-label={label}>
			{reference.score_words.map((says, score) => (
				<UnstyledButton
					key={says}
					disabled={isOff}
					className={`${styles.scoreKey} ${given === score ? styles.on : ""} ${proposed === score ? styles.endpoint : ""}`}
					onClick={() => onScore(score)}
				>
					<RootsDrawing score={score} />
					<strong>{score}</strong>
					<span>{says}</span>
					<kbd>{score}</kbd>
				</UnstyledButton>
			))}
		</div>
	);
}
