import { useQuery } from "@tanstack/react-query";
import { useImperativeHandle } from "react";
import { api, body, type Reference, type RoundUnit } from "@/api/client";
import { ofTrial } from "@/api/keys";
import styles from "./Rounds.module.css";
import { ScoreKeys } from "./ScoreKeys";
import { UnitTitle } from "./UnitTitle";
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
		queryKey: ofTrial(trialId, "agreement"),
		queryFn: () => body(api.GET("/api/trials/{trial_id}/agreement", { params: { path } })),
		refetchInterval: 5_000,
	});
	useImperativeHandle(keys, () => (pressed: string) => {
		if (!unit.second || !/^[0-5]$/.test(pressed)) return false;
		onScore(Number(pressed));
		return true;
	});
	return (
		<>
			<UnitTitle unit={unit}>
				{unit.second
					? unit.second_score === null
						? "second score"
						: `second score ${unit.second_score}`
					: "not chosen"}
			</UnitTitle>
			<ScoreKeys
				label="Second score"
				reference={reference}
				given={unit.second_score}
				isOff={!unit.second}
				onScore={onScore}
			/>
			{data && (
				<section className={styles.agree} aria-label="Agreement between scorers">
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
