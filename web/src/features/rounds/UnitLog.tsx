import { Popover, UnstyledButton } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { api, body, type Observation, type StageScale } from "@/api/client";
import { ofTrial } from "@/api/keys";
import styles from "./Rounds.module.css";
import { keyOf } from "./round";

export interface UnitLogProps {
	trialId: string;
	unitId: string;
	code: string;
	ladder: StageScale;
}

/** Everything ever written of one unit, corrections beside what they correct. */
export function UnitLog({ trialId, unitId, code, ladder }: UnitLogProps) {
	return (
		<Popover width={300} position="bottom-end" trapFocus returnFocus>
			<Popover.Target>
				<UnstyledButton className={styles.logButton}>
					log<span className="visually-hidden"> of {code}</span>
				</UnstyledButton>
			</Popover.Target>
			<Popover.Dropdown className={styles.log}>
				<h3>All entries for {code}</h3>
				<Lines trialId={trialId} unitId={unitId} ladder={ladder} />
			</Popover.Dropdown>
		</Popover>
	);
}

function Lines({ trialId, unitId, ladder }: Omit<UnitLogProps, "code">) {
	const path = { trial_id: trialId, unit_id: unitId };
	const { data } = useQuery({
		queryKey: ofTrial(trialId, "unit-log", unitId),
		queryFn: () =>
			body(api.GET("/api/trials/{trial_id}/units/{unit_id}/log", { params: { path } })),
		staleTime: 0,
	});
	const story = useQuery({
		queryKey: ofTrial(trialId, "unit-story", unitId),
		queryFn: () =>
			body(api.GET("/api/trials/{trial_id}/units/{unit_id}/story", { params: { path } })),
		staleTime: 0,
	});
	if (!data) return <p>Loading</p>;
	const replaced = new Set(data.map((o) => o.corrects));
	return (
		<>
			{story.data?.says.map((line) => (
				<p key={line}>{line}</p>
			))}
			{data.length === 0 && <p>No looks yet</p>}
			<ol>
				{data.map((o) => (
					<li key={o.id}>
						{replaced.has(o.id) ? <s>{says(o, ladder)}</s> : says(o, ladder)}
						<span className="muted"> · {o.who}</span>
					</li>
				))}
			</ol>
			{story.data && story.data.entries.length > 0 && (
				<>
					<h4>Events and notes</h4>
					<ul>
						{story.data.entries.map((e) => (
							<li key={e.id}>
								{e.says} <span className="muted">· {e.who}</span>
							</li>
						))}
					</ul>
				</>
			)}
		</>
	);
}

function says(o: Observation, ladder: StageScale): string {
	const day = `day ${o.day}: `;
	if (o.kind === "void") return `${day}taken back`;
	if (o.kind === "score") return `${day}root score ${o.score}`;
	const change = o.corrects ? " (correction)" : "";
	if (o.kind === "count") {
		const gone = (o.lost ?? 0) + (o.lost_struck ?? 0);
		return `${day}${o.struck} counted, ${gone} lost, ${o.removed} removed${change}`;
	}
	const flags = `${o.shoot ? ", shoot" : ""}${o.wilted ? ", limp" : ""}`;
	return `${day}${keyOf(o, ladder)?.name.toLowerCase() ?? "looked at"}${flags}${change}`;
}
