import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, body, type Reference, type RoundUnit } from "@/api/client";
import { RootsDrawing } from "./LiftPanel";
import styles from "./Rounds.module.css";
import type { PanelKeys } from "./useRoundKeys";

export interface SecondPanelProps {
	trialId: string;
	unit: RoundUnit;
	reference: Reference;
	onScore: (score: number) => void;
	keys: PanelKeys;
}

/** A second scorer on plants drawn by lot; the first one's score is not shown. */
export function SecondPanel({ trialId, unit, reference, onScore, keys }: SecondPanelProps) {
	const path = { trial_id: trialId };
	const { data } = useQuery({
		queryKey: ["agreement", trialId],
		queryFn: () => body(api.GET("/api/trials/{trial_id}/agreement", { params: { path } })),
		refetchInterval: 5_000,
	});
	useEffect(() => {
		keys.current = (pressed) => {
			if (!/^[0-5]$/.test(pressed)) return false;
			onScore(Number(pressed));
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
					{unit.second
						? unit.second_score === null
							? "second score"
							: `second score ${unit.second_score}`
						: "not among those drawn"}
				</small>
			</h2>
			<div className={styles.scores} role="group" aria-label="Second score">
				{reference.score_words.map((says, score) => (
					<button
						key={says}
						type="button"
						disabled={!unit.second}
						className={`${styles.scoreKey} ${unit.second_score === score ? styles.on : ""}`}
						onClick={() => onScore(score)}
					>
						<RootsDrawing score={score} />
						<strong>{score}</strong>
						<span>{says}</span>
						<kbd>{score}</kbd>
					</button>
				))}
			</div>
			{data && (
				<section className={styles.agree} aria-label="Agreement of the two">
					<p>
						{data.done} of {data.wanted.length} drawn by lot are scored a second time.
					</p>
					<p>{data.says}</p>
					{data.gaps.length > 0 && <p>Every arm gets every field. {data.gaps.join("; ")}.</p>}
				</section>
			)}
		</>
	);
}
