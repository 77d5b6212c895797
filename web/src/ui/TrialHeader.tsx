import type { Trial } from "@/api/client";
import { count, numbersOf } from "@/core/text";
import { NavLink } from "@/ui/routing";
import { CourseLine } from "./CourseLine";
import styles from "./TrialHeader.module.css";

export interface TrialHeaderProps {
	trial: Trial;
	/** Day of the round that is open, if one is. */
	open?: number;
	/** Leave room for the work below: no line of particulars. */
	compact?: boolean;
}

/** What the trial is judged on: how many, how soon, or what is measured. */
function judgedOn({ plan, endpoint_says }: Trial): string {
	if (plan.measure === "speed") return `how soon ${endpoint_says}`;
	if (plan.measure === "quality") return plan.graded_by?.replaceAll("_", " ") || "root score";
	return endpoint_says;
}

/** The head of every page inside a trial: what it asks, the flags, the course line. */
export function TrialHeader({ trial, open, compact }: TrialHeaderProps) {
	const { plan } = trial;
	const isDraft = trial.status === "draft";
	const each = plan.per_container > 1 ? `${plan.per_container} per container` : "1 per container";
	const blocks = plan.blocks > 1 ? `, ${count(plan.blocks, "block")}` : "";
	const flags = [
		{ to: "plan", name: "Plan", on: true },
		{ to: "prepare", name: "Prepare", on: true },
		{ to: "rounds", name: "Rounds", on: !isDraft },
		{ to: "finish", name: "Finish", on: !isDraft },
	];
	return (
		<header className={`${styles.header} ${compact ? styles.compact : ""}`}>
			<div className={styles.top}>
				<div className={styles.title}>
					<h1 dir="auto" title={plan.question}>
						{plan.question || "New trial"}
					</h1>
					<p className={styles.particulars}>
						{isDraft
							? "Draft · "
							: trial.today != null
								? `Day ${trial.today}${trial.days_say ? ` (${trial.days_say})` : ""} · `
								: ""}
						{numbersOf(plan)}, {each}
						{blocks} · judged on: {judgedOn(trial)} by day {plan.length_days}
						{trial.sealed ? " · blind: treatments hidden" : ""}
						{trial.invented ? " · invented demo data" : ""}
					</p>
				</div>
				<nav aria-label="Trial sections" className={styles.flags}>
					{flags.map((f) =>
						f.on ? (
							<NavLink key={f.to} to={`/trials/${trial.id}/${f.to}`} className={styles.flag}>
								{f.name}
							</NavLink>
						) : (
							<span key={f.to} className={`${styles.flag} ${styles.off}`}>
								{f.name}
								<span className="visually-hidden">: available once the trial has started</span>
							</span>
						),
					)}
				</nav>
			</div>
			<CourseLine trial={trial} open={open} />
		</header>
	);
}
