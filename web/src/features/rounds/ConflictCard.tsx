import { UnstyledButton } from "@mantine/core";
import type { Observation, RoundUnit, StageScale } from "@/api/client";
import styles from "./Rounds.module.css";
import { keyOf } from "./round";

export interface ConflictCardProps {
	unit: RoundUnit;
	ladder: StageScale;
	onSettle: (take: Observation | null) => void;
}

/** Two phones saw one unit differently: both stand here until somebody says which holds. */
export function ConflictCard({ unit, ladder, onSettle }: ConflictCardProps) {
	const other = unit.conflict;
	const mine = other?.kind === "score" ? unit.score : unit.current;
	if (!other || !mine) return null;
	return (
		<section className={styles.conflict} aria-label={`Two looks at ${unit.cell.code} differ`}>
			<p>
				<strong>Two looks at {unit.cell.code} differ.</strong> Which holds? Both stay in the log.
			</p>
			<div>
				<UnstyledButton onClick={() => onSettle(null)}>
					{said(mine, ladder)}
					<small>{mine.who || "this device"}</small>
				</UnstyledButton>
				<UnstyledButton onClick={() => onSettle(other)}>
					{said(other, ladder)}
					<small>{other.who || "another device"}</small>
				</UnstyledButton>
			</div>
		</section>
	);
}

function said(o: Observation, ladder: StageScale): string {
	if (o.kind === "score")
		return o.score === null ? "scores, plant by plant" : `root score ${o.score}`;
	if (o.kind === "count") {
		const gone = (o.lost ?? 0) + (o.lost_struck ?? 0);
		return `${o.struck ?? 0} counted${gone ? `, ${gone} lost` : ""}`;
	}
	const flags = `${o.shoot ? ", shoot" : ""}${o.wilted ? ", limp" : ""}`;
	return `${keyOf(o, ladder)?.name ?? "looked at"}${flags}`;
}
