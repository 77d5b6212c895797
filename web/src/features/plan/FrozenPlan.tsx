import type { Trial } from "@/api/client";
import { dayMonth } from "@/core/text";
import { Card } from "@/ui/Card";
import { SilkSquare } from "@/ui/SilkSquare";
import { BenchMap } from "./BenchMap";
import styles from "./Plan.module.css";

const ROLE_WORDS = {
	control: "untreated control",
	carrier: "carrier control",
	standard: "standard",
	candidate: "candidate",
} as const;

/** A plan that has started: frozen, shown as it was, its bench hidden while sealed. */
export function FrozenPlan({ trial }: { trial: Trial }) {
	const { plan } = trial;
	const stamped = trial.started_at ? dayMonth(trial.started_at) : "";
	return (
		<div className={styles.page}>
			<Card title="Treatments" aside={`plan frozen on ${stamped}`}>
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
					<Fact name="Plant material" value={plan.material} />
					<Fact name="Struck means" value={trial.endpoint_says} />
					<Fact name="Gap worth having" value={`${plan.gap_points} points`} />
					<Fact name="Day 0" value={`${plan.day0}, ${stamped} (${plan.time_zone})`} />
					<Fact
						name="Looks"
						value={`every ${plan.look_every_days} days until day ${plan.length_days}`}
					/>
				</dl>
			</Card>
			<Card
				title="Bench"
				aside={
					trial.sealed
						? "sealed: treatments show when the trial is unsealed"
						: `drawn by lot, seed ${trial.seed}`
				}
			>
				<BenchMap cells={trial.bench} treatments={plan.treatments} door={plan.door} />
			</Card>
		</div>
	);
}

function Fact({ name, value }: { name: string; value: string }) {
	return (
		<div>
			<dt>{name}</dt>
			<dd dir="auto">{value}</dd>
		</div>
	);
}
