import { NativeSelect } from "@mantine/core";
import type { Trial } from "@/api/client";
import { dateOfDay } from "@/core/text";
import { Link, useNavigate } from "@/ui/routing";
import styles from "./CourseLine.module.css";

const WORDS = {
	done: "round done",
	partial: "round incomplete",
	due: "round due",
	missed: "round missed",
	coming: "round planned",
} as const;

export interface CourseLineProps {
	trial: Trial;
	/** Day of the round that is open, if one is. */
	open?: number;
}

/** Day 0 to the planned end, a dot for each look; click a dot to open that round. */
export function CourseLine({ trial, open }: CourseLineProps) {
	const { course, today, started_on, plan } = trial;
	if (today == null || !started_on) return null;
	const end = Math.max(plan.length_days, ...course.map((d) => d.day));
	const at = (day: number) => `${(100 * day) / end}%`;
	const now = Math.min(today, end);
	const every = Math.ceil(course.length / MOST_NAMED);
	return (
		<nav className={styles.course} aria-label="Trial timeline">
			<div className={styles.line} />
			<div className={styles.run} style={{ width: at(now) }} />
			<ol className={styles.dots}>
				{course.map((dot, i) => {
					const isNamed = dot.day === open || (course.length - 1 - i) % every === 0;
					const label = `Day ${dot.day}, ${dateOfDay(started_on, dot.day)}: ${WORDS[dot.state]}`;
					const cls = `${styles.dot} ${styles[dot.state]} ${dot.day === open ? styles.open : ""}`;
					return (
						<li key={dot.day} style={{ left: at(dot.day) }} className={styles.place}>
							{dot.state === "coming" ? (
								<span className={cls} role="img" aria-label={label} title={label} />
							) : (
								<Link
									className={cls}
									aria-label={label}
									aria-current={dot.day === open ? "step" : undefined}
									title={label}
									to={`/trials/${trial.id}/rounds/${dot.state === "due" ? today : dot.day}`}
								/>
							)}
							{isNamed && (
								<span className={styles.day} aria-hidden="true">
									{dot.day}
								</span>
							)}
						</li>
					);
				})}
			</ol>
			{today < end && (
				<span className={styles.now} style={{ left: at(now) }}>
					now
				</span>
			)}
			<div className={styles.ends}>
				<span>
					{plan.day0 === "sticking" ? "stuck" : plan.day0 === "sowing" ? "sown" : "wetted"}{" "}
					{dateOfDay(started_on, 0)}
				</span>
				<AnotherDay trial={trial} today={today} />
				<span>
					day {plan.length_days}, {dateOfDay(started_on, plan.length_days)}
				</span>
			</div>
		</nav>
	);
}

/** Opens a round on a day without a dot: today, or a day gone by that was looked at unplanned. */
function AnotherDay({ trial, today }: { trial: Trial; today: number }) {
	const navigate = useNavigate();
	const dotted = new Set(trial.course.filter((d) => d.state !== "coming").map((d) => d.day));
	const isDue = trial.course.some((d) => d.state === "due");
	const open = Array.from({ length: today + 1 }, (_, i) => today - i).filter(
		(d) => d > 0 && !dotted.has(d) && !(isDue && d === today),
	);
	if (open.length === 0) return null;
	const named = (d: number) => ({
		value: String(d),
		label: d === today ? `today, day ${d}` : `day ${d}, ${dateOfDay(trial.started_on ?? "", d)}`,
	});
	return (
		<NativeSelect
			size="xs"
			className={styles.another}
			aria-label="Enter a look of another day"
			value=""
			onChange={(e) => navigate(`/trials/${trial.id}/rounds/${e.currentTarget.value}`)}
			data={[
				{ value: "", label: "Look on another day…" },
				...open.slice(0, MOST_DAYS_LISTED).map(named),
			]}
		/>
	);
}

/** Dots that bear their day; of more, every second or third. */
const MOST_NAMED = 14;
const MOST_DAYS_LISTED = 400;
