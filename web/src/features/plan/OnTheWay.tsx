import { Button, NativeSelect } from "@mantine/core";
import type { Plan } from "@/api/client";
import { NumberField } from "@/ui/NumberField";
import { useReference } from "@/ui/reference";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./OnTheWay.module.css";

export interface OnTheWayProps {
	plan: Plan;
	set: (change: Partial<Plan>) => void;
	fault: (field: string) => string | undefined;
}

type Lift = NonNullable<Plan["sample_lifts"]>[number];
type Job = NonNullable<Plan["jobs"]>[number];

/** Sample lifts, drawn by lot, and other work by day: both stand on Today when they are due. */
export function OnTheWay({ plan, set, fault }: OnTheWayProps) {
	const events = useReference()?.events.filter((e) => e.by_hand) ?? [];
	const lifts = plan.sample_lifts ?? [];
	const jobs = plan.jobs ?? [];
	const lift = (i: number, change: Partial<Lift>) =>
		set({ sample_lifts: lifts.map((x, k) => (k === i ? { ...x, ...change } : x)) });
	const job = (i: number, change: Partial<Job>) =>
		set({ jobs: jobs.map((x, k) => (k === i ? { ...x, ...change } : x)) });
	const middle = Math.max(1, Math.round((plan.length_days ?? 42) / 2));
	return (
		<details className={styles.way} open={lifts.length + jobs.length > 0}>
			<summary>Planned lifts and other jobs</summary>
			{lifts.map((x, i) => (
				<div key={`lift-${x.day}-${i + 1}`} className={styles.line}>
					<NumberField
						label="Lift on day"
						min={1}
						value={x.day}
						isWhole
						onCommit={(day) => lift(i, { day })}
					/>
					<NumberField
						label="Lifted per treatment"
						min={1}
						value={x.units}
						isWhole
						onCommit={(units) => lift(i, { units })}
					/>
					<Button
						variant="default"
						onClick={() => set({ sample_lifts: lifts.filter((_, k) => k !== i) })}
					>
						Remove<span className="visually-hidden"> the lift on day {x.day}</span>
					</Button>
				</div>
			))}
			{fault("sample_lifts") && <p role="alert">{fault("sample_lifts")}</p>}
			{jobs.map((x, i) => (
				<div key={`job-${x.what}-${x.day}-${i + 1}`} className={styles.line}>
					<NativeSelect
						label="Job"
						value={x.what}
						data={events.map((e) => ({ value: e.code, label: e.name }))}
						onChange={(e) => job(i, { what: e.currentTarget.value })}
					/>
					<NumberField
						label="On day"
						min={0}
						value={x.day}
						isWhole
						onCommit={(day) => job(i, { day })}
					/>
					<Button variant="default" onClick={() => set({ jobs: jobs.filter((_, k) => k !== i) })}>
						Remove<span className="visually-hidden"> the work on day {x.day}</span>
					</Button>
				</div>
			))}
			{fault("jobs") && <p role="alert">{fault("jobs")}</p>}
			<div className={styles.line}>
				<Button
					variant="default"
					disabled={(plan.per_container ?? 1) > 1}
					onClick={() =>
						set({ sample_lifts: [...lifts, { day: freeDay(lifts, middle), units: 1 }] })
					}
				>
					Add a sample lift
				</Button>
				<WhyNot>
					{(plan.per_container ?? 1) > 1 ? "A sample lift needs one plant per container." : ""}
				</WhyNot>
				<Button
					variant="default"
					onClick={() => set({ jobs: [...jobs, { what: "uncovered", day: middle }] })}
				>
					Add a job
				</Button>
			</div>
			<p className="muted">
				A sample lift takes the same number from each treatment at random. They leave the trial that
				day, so set more plants.
			</p>
		</details>
	);
}

/** A day no lift stands on yet, from the middle on. */
function freeDay(lifts: readonly Lift[], from: number): number {
	const taken = new Set(lifts.map((x) => x.day));
	let day = from;
	while (taken.has(day)) day++;
	return day;
}
