import { UnstyledButton } from "@mantine/core";
import { useImperativeHandle } from "react";
import type { Reference, RoundUnit } from "@/api/client";
import { count } from "@/core/text";
import { useUnsaved } from "@/ui/useUnsaved";
import { RootsDrawing } from "./RootsDrawing";
import styles from "./Rounds.module.css";
import type { Tap } from "./round";
import { UnitTitle } from "./UnitTitle";
import type { PanelKeys } from "./useRoundKeys";

export interface SharedScorePanelProps {
	unit: RoundUnit;
	reference: Reference;
	/** Enters it; whether this device kept it. */
	onTap: (tap: Tap) => Promise<boolean>;
	keys: PanelKeys;
	/** What names the half-entered scores of this container. */
	draft: string;
}

/** The lift of a container of many: every plant its own score; the best is not the jar. */
export function SharedScorePanel(props: SharedScorePanelProps) {
	const { unit, reference, onTap, keys, draft } = props;
	const [plants, setPlants, forget] = useUnsaved<Record<string, number>>(
		`${draft}.lift`,
		unit.score?.parts ?? {},
	);
	const seen = unit.current ?? unit.previous;
	const gone = (seen?.lost ?? 0) + (seen?.lost_struck ?? 0) + (seen?.removed ?? 0);
	const standing = unit.held - gone;
	const scored = Object.values(plants).reduce((sum, n) => sum + n, 0);
	const add = (score: number, by: number) => {
		const name = `score_${score}`;
		const next = Math.max(0, (plants[name] ?? 0) + by);
		if (by < 0 || scored < standing) setPlants({ ...plants, [name]: next });
	};
	const save = () => {
		if (scored !== standing) return;
		void onTap({ kind: "score", score: null, parts: plants }).then((isKept) => isKept && forget());
	};
	useImperativeHandle(keys, () => (pressed: string) => {
		if (/^[0-5]$/.test(pressed)) add(Number(pressed), 1);
		else if (pressed === "Enter") save();
		else return false;
		return true;
	});
	return (
		<>
			<UnitTitle unit={unit}>
				{scored} of {count(standing, "plant")} scored
			</UnitTitle>
			<div className={styles.scores} role="group" aria-label="Plants per root score">
				{reference.score_words.map((says, score) => (
					<div key={says} className={styles.scoreCount}>
						<RootsDrawing score={score} size={34} />
						<span>
							<strong>{score}</strong> {says}
						</span>
						<UnstyledButton aria-label={`One fewer at ${score}`} onClick={() => add(score, -1)}>
							−
						</UnstyledButton>
						<output>{plants[`score_${score}`] ?? 0}</output>
						<UnstyledButton aria-label={`One more at ${score}`} onClick={() => add(score, 1)}>
							+
						</UnstyledButton>
					</div>
				))}
			</div>
			<p className={styles.proposed} role="status">
				{scored === standing
					? "All plants scored"
					: `${count(standing - scored, "plant")} still to score: all of them, not the best.`}
			</p>
			<UnstyledButton className={styles.saveScores} disabled={scored !== standing} onClick={save}>
				Save <kbd>Enter</kbd>
			</UnstyledButton>
		</>
	);
}
