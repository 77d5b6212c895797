import { Button } from "@mantine/core";
import type { TrialLine } from "@/api/client";
import { Link } from "@/ui/routing";
import styles from "./Today.module.css";

export interface TrialRowProps {
	trial: TrialLine;
	under: "h1" | "h2";
	/** Its round is offered above already, among what is due. */
	isListed?: boolean;
}

/** One trial in a list: what it asks, its day, what is due, and the way to it. */
export function TrialRow({ trial: t, under, isListed }: TrialRowProps) {
	const Title = under === "h1" ? "h2" : "h3";
	if (t.fault) {
		return (
			<li className={styles.trial}>
				<div className={styles.what}>
					<Title dir="auto">{t.question}</Title>
					<p role="alert">{t.fault}</p>
				</div>
			</li>
		);
	}
	const isDue = t.due_day !== null && !t.finished && !isListed;
	const target =
		t.status === "draft" ? "plan" : t.finished ? "finish" : isDue ? `rounds/${t.today}` : "finish";
	const action =
		t.status === "draft"
			? "Continue planning"
			: isDue
				? "Start round"
				: t.finished
					? "See results"
					: "See results so far";
	const share = t.today === null ? 0 : Math.min(1, t.today / t.length_days);
	return (
		<li className={`${styles.trial} ${isDue ? styles.due : ""}`}>
			<div className={styles.what}>
				<Title dir="auto">
					<Link to={`/trials/${t.id}/${t.status === "draft" ? "plan" : target}`}>{t.question}</Link>
				</Title>
				<p className="muted" dir="auto">
					{t.material}
					{t.invented ? " · invented demo data" : ""}
				</p>
				<p>{t.says}</p>
			</div>
			<div className={styles.day}>
				{t.today !== null && (
					<>
						<strong>
							{t.finished ? "ended on day" : "day"} {t.finished ? t.length_days : t.today}
						</strong>
						{!t.finished && <span className="muted"> of {t.length_days}</span>}
						<div className={styles.track} aria-hidden>
							<div style={{ width: `${100 * share}%` }} />
						</div>
					</>
				)}
				<p className="muted">
					{t.treatments} treatments, {t.units} units
				</p>
			</div>
			<Button
				component={Link}
				to={`/trials/${t.id}/${target}`}
				variant={isDue ? "filled" : "default"}
				aria-label={`${action}: ${t.question}`}
				className={styles.go}
			>
				{action}
			</Button>
		</li>
	);
}
