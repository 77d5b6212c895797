import { Button, NativeSelect } from "@mantine/core";
import { useState } from "react";
import type { Trial } from "@/api/client";
import { dayMonth } from "@/core/text";
import { ROLE_WORDS, sidesSay } from "@/core/words";
import { BaselineCard } from "@/ui/BaselineCard";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import { SilkSquare } from "@/ui/SilkSquare";
import { AmendCard } from "./AmendCard";
import { VIEWS } from "./BenchCard";
import { BenchMap, type BenchView } from "./BenchMap";
import styles from "./Plan.module.css";
import { measuresOf } from "./QuestionCard";
import { useCopy } from "./usePlan";

/** A plan that has started: frozen, shown as it was, its bench hidden while sealed. */
export function FrozenPlan({ trial }: { trial: Trial }) {
	const { plan } = trial;
	const stamped = trial.started_at ? dayMonth(trial.started_at) : "";
	const written = trial.planned_late
		? `written on ${dayMonth(trial.planned_at)}, ${trial.planned_late} days after day 0`
		: `plan frozen on ${stamped}`;
	const [view, setView] = useState<BenchView>("treatments");
	const copy = useCopy(trial.id);
	return (
		<div className={styles.page}>
			<div className={styles.column}>
				<Card title="Treatments" aside={written}>
					<ul className={styles.treatments}>
						{plan.treatments.map((t) => (
							<li key={t.name} className={styles.treatment}>
								<SilkSquare id={t.silk} size={36} />
								<div>
									<strong dir="auto">{t.name}</strong>{" "}
									<span className={styles.role}>{ROLE_WORDS[t.role]}</span>
									<p className="muted" dir="auto">
										{t.detail}
									</p>
								</div>
							</li>
						))}
					</ul>
					<dl className={styles.gather}>
						<Fact name="Plants" value={plan.material} />
						<Fact
							name="Judged on"
							value={measuresOf(plan).find((m) => m.value === plan.measure)?.label ?? plan.measure}
						/>
						<Fact name="Counts when" value={trial.endpoint_says} />
						<Fact name="Smallest difference that matters" value={gapSaid(trial)} />
						<Fact name="Day 0" value={`${plan.day0}, ${stamped} (${plan.time_zone})`} />
						<Fact
							name="Looks"
							value={
								plan.look_days.length > 0
									? `on days ${plan.look_days.join(", ")}`
									: `every ${plan.look_every_days} days until day ${plan.length_days}`
							}
						/>
						{plan.sample_lifts.length > 0 && (
							<Fact
								name="Sample lifts"
								value={plan.sample_lifts.map((x) => `day ${x.day}, ${x.units} of each`).join("; ")}
							/>
						)}
						{trial.fingerprint && <Fact name="Fingerprint" value={trial.fingerprint} />}
						{trial.has_predictions && <Fact name="Predictions" value="hidden until the results" />}
						{plan.prior && <Fact name="Known before" value={plan.prior} />}
						{plan.overrides.map((o) => (
							<Fact
								key={o.code}
								name={`Overruled: ${o.code.replaceAll("_", " ")}`}
								value={o.reason}
							/>
						))}
					</dl>
				</Card>
				<AmendCard trial={trial} />
				{!trial.sealed && <BaselineCard trial={trial} canEdit={false} />}
				<div className={styles.actions}>
					<Button variant="default" loading={copy.isPending} onClick={() => copy.mutate()}>
						Copy plan
					</Button>
					<Button variant="subtle" component={Link} to={`/trials/${trial.id}/compare`}>
						Compare with another plan
					</Button>
					<ProblemAlert error={copy.error} />
				</div>
			</div>
			<Card
				title="Bench"
				className={styles.benchCard}
				aside={
					trial.sealed
						? "hidden until you show treatments"
						: plan.layout === "by hand"
							? "laid by hand: positions were not randomised"
							: `randomised, seed ${trial.seed}`
				}
			>
				{trial.sealed && trial.seed_is_short && (
					<p>
						This bench was drawn from a short seed, as all were before: someone with a computer
						could find the treatments from the blind codes. New trials have seeds of 128 bits.
					</p>
				)}
				<div className={styles.benchTools}>
					<NativeSelect
						size="sm"
						aria-label="Tray plan shows"
						value={view}
						data={
							trial.sealed ? VIEWS.map((v, i) => (i ? v : { ...v, label: "Positions" })) : VIEWS
						}
						onChange={(e) => setView(e.currentTarget.value as BenchView)}
					/>
					<Button size="sm" variant="default" onClick={() => window.print()}>
						Print tray plan
					</Button>
				</div>
				<BenchMap
					cells={trial.bench}
					treatments={plan.treatments}
					sides={sidesSay(plan.sides)}
					trayNames={plan.tray_names}
					view={view}
				/>
			</Card>
		</div>
	);
}

function gapSaid({ plan }: Trial): string {
	if (plan.measure === "speed") return `${plan.gap_days} days sooner`;
	if (plan.graded_by) return `${plan.gap_score} more of ${plan.graded_by.replaceAll("_", " ")}`;
	if (plan.measure === "quality") return `a root score ${plan.gap_score} higher`;
	return plan.expect_level ? `level within ${plan.gap_points} points` : `${plan.gap_points} points`;
}

function Fact({ name, value }: { name: string; value: string }) {
	return (
		<div>
			<dt>{name}</dt>
			<dd dir="auto">{value}</dd>
		</div>
	);
}
