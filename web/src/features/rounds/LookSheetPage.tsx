import { Button, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Round, type RoundUnit, type StageScale, type Trial } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { dateOfDay } from "@/core/text";
import { sidesSay } from "@/core/words";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { RoundsNav } from "@/ui/RoundsNav";
import { useStageScale } from "@/ui/reference";
import { useNavigate, useParams } from "@/ui/routing";
import { StageDrawing } from "@/ui/StageDrawing";
import { faultOf, Unopened } from "@/ui/Unopened";
import { useTrial } from "@/ui/useTrial";
import styles from "./LookSheet.module.css";
import { keyOf } from "./round";

/** A round on paper: the bench as it lies, with the key, the last stage, and room for a mark. */
export function LookSheetPage() {
	const { trialId = "" } = useParams();
	const trial = useTrial(trialId);
	const ladder = useStageScale(trial.data?.plan);
	const last = trial.data?.plan.length_days ?? 0;
	const today = Math.min(trial.data?.today ?? 0, last);
	const path = { trial_id: trialId, day: today };
	const round = useQuery({
		queryKey: ofTrial(trialId, "look-sheet", today),
		enabled: trial.data?.started_on != null,
		queryFn: () => body(api.GET("/api/trials/{trial_id}/rounds/{day}", { params: { path } })),
	});
	if (!trial.data) return <Unopened of={[trial]} shape="tray" />;
	if (!trial.data.started_on) return <p>Paper sheets can be printed once the trial has started</p>;
	return (
		<>
			<div className="no-print">
				<h1>Paper sheet</h1>
				<RoundsNav trialId={trialId} />
				<div className={styles.ways}>
					<Card title="Print">
						<p>One per round, in the same order as on screen; the last stage is printed small</p>
						<Button onClick={() => window.print()}>Print sheet</Button>
					</Card>
					<TypeIn trial={trial.data} />
				</div>
			</div>
			<ProblemAlert error={faultOf(round)} />
			{round.data && ladder && <Sheet trial={trial.data} round={round.data} ladder={ladder} />}
		</>
	);
}

/** A filled sheet is typed in with the same keys in the same order; its date is asked first. */
function TypeIn({ trial }: { trial: Trial }) {
	const go = useNavigate();
	const start = trial.started_on ?? "";
	const [on, setOn] = useState("");
	const day = on
		? Math.round((Date.parse(`${on}T12:00`) - Date.parse(`${start}T12:00`)) / 86_400_000)
		: null;
	const isBad = day !== null && (day < 0 || day > (trial.today ?? 0));
	return (
		<Card title="Enter a filled sheet">
			<form
				className={styles.typeIn}
				onSubmit={(e) => {
					e.preventDefault();
					if (day !== null && !isBad) go(`/trials/${trial.id}/rounds/${day}`);
				}}
			>
				<TextInput
					type="date"
					required
					label="Date of the round"
					min={start}
					value={on}
					onChange={(e) => setOn(e.currentTarget.value)}
					error={isBad ? "That date is not between day 0 and today" : undefined}
					description={day !== null && !isBad ? `Day ${day} of the trial.` : "Date on the sheet"}
				/>
				<Button type="submit" variant="default">
					Enter results
				</Button>
			</form>
		</Card>
	);
}

function Sheet({ trial, round, ladder }: { trial: Trial; round: Round; ladder: StageScale }) {
	const trays = [...new Set(round.units.map((u) => u.tray))].sort((a, b) => a - b);
	const isCounting = trial.plan.per_container > 1;
	return (
		<section className={styles.sheet} aria-label="Look sheet">
			<header>
				<h2 dir="auto">{trial.plan.question}</h2>
				<p>
					{trial.invented && "Invented demo data. "}
					{trial.plan.blind && "Scored blind. "}
					Date ____________ Who ____________ {sidesSay(trial.plan.sides)}
				</p>
			</header>
			<ul className={styles.key} aria-label="Key to stages">
				{[...ladder.stages, ...ladder.exits].map((k) => (
					<li key={k.key}>
						<StageDrawing name={k.drawing} size={24} />
						<span>
							<strong>{k.key}</strong> {k.name}
						</span>
					</li>
				))}
			</ul>
			{trays.map((tray) => (
				<Bench
					key={tray}
					trial={trial}
					round={round}
					tray={tray}
					ladder={ladder}
					isCounting={isCounting}
				/>
			))}
			<p className="muted">
				{isCounting
					? "Write how many have ever come up and how many were lost. Leave a cell empty if you did not look."
					: "Write the number or letter of the stage; add s for a shoot. Leave a cell empty if you did not look."}
				{round.previous_day !== null &&
					trial.started_on &&
					` Small print: the look of day ${round.previous_day}, ${dateOfDay(trial.started_on, round.previous_day)}, or the last before it.`}
			</p>
		</section>
	);
}

interface BenchProps {
	trial: Trial;
	round: Round;
	tray: number;
	ladder: StageScale;
	isCounting: boolean;
}

function Bench({ trial, round, tray, ladder, isCounting }: BenchProps) {
	const units = round.units.filter((u) => u.tray === tray);
	const columns = Math.max(...round.units.map((u) => u.col)) + 1;
	const rows = [...new Set(units.map((u) => u.row))].sort((a, b) => a - b);
	return (
		<table className={styles.bench}>
			<caption>{trial.plan.tray_names[tray] || `Tray ${tray + 1}`}</caption>
			<tbody>
				{rows.map((row) => (
					<tr key={row}>
						{Array.from({ length: columns }, (_, col) => {
							const u = units.find((x) => x.row === row && x.col === col);
							return (
								<td key={`${row}-${col + 1}`}>
									{u && <Mark unit={u} ladder={ladder} isCounting={isCounting} />}
								</td>
							);
						})}
					</tr>
				))}
			</tbody>
		</table>
	);
}

function Mark({
	unit: u,
	ladder,
	isCounting,
}: {
	unit: RoundUnit;
	ladder: StageScale;
	isCounting: boolean;
}) {
	const seen = u.current ?? u.previous;
	const was = isCounting ? (seen ? `${seen.struck ?? 0}` : "") : (keyOf(seen, ladder)?.key ?? "");
	return (
		<div className={u.gone ? styles.gone : undefined}>
			<span>
				{u.cell.code}
				{u.cell.label && ` ${u.cell.label}`}
			</span>
			<small>{u.gone ? "gone" : was && `was ${was}`}</small>
		</div>
	);
}
