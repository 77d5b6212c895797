import { Button, NativeSelect, SegmentedControl, TextInput } from "@mantine/core";
import type { ClockStep, Prepared, Trial } from "@/api/client";
import { Card } from "@/ui/Card";
import { NumberField } from "@/ui/NumberField";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { SilkSquare } from "@/ui/SilkSquare";
import { ArmSteps, type ArmStepsProps, ProposedSteps } from "./ArmSteps";
import { left, long, minutesSaid, moment, next, stateOf } from "./clock";
import styles from "./Prepare.module.css";
import { asSent, type PrepareLog, useNow } from "./usePrepare";

type ClockCardProps = ArmStepsProps;

/** Soaks and dips worked back from the hour of sticking or sowing, and the timers that run. */
export function ClockCard({ trial, found, log }: ClockCardProps) {
	const { clock } = found;
	const isDraft = trial.status === "draft";
	const zone = trial.plan.time_zone;
	const isOpen = clock.steps.some((s) => !s.stopped_at);
	const now = useNow(isOpen);
	const first = clock.is_planned ? next(clock.steps, now) : undefined;
	const arms = trial.plan.treatments;
	const verb = trial.plan.kind === "seed" ? "sow" : "stick";
	return (
		<Card
			title="Soak schedule"
			aside={clock.is_planned ? `first in: ${moment(clock.at, zone)}` : undefined}
		>
			{isDraft && <ProposedSteps trial={trial} found={found} log={log} />}
			{isDraft && <ClockFields trial={trial} found={found} log={log} />}
			{clock.says.map((line) => (
				<p key={line}>{line}</p>
			))}
			{first && <Next step={first} arm={arms[first.treatment]?.name ?? ""} now={now} zone={zone} />}
			{clock.steps.length === 0 ? (
				<p className="muted">
					No soak or dip is set for any treatment.{" "}
					{isDraft && "Write one below, such as 12 h or 5 s."}
				</p>
			) : (
				<ol className={styles.steps}>
					{clock.steps.map((s) => (
						<StepRow
							key={s.key}
							step={s}
							trial={trial}
							now={now}
							log={log}
							isTimed={clock.is_planned}
						/>
					))}
				</ol>
			)}
			{isDraft && <ArmSteps trial={trial} found={found} log={log} />}
			{!clock.is_planned && clock.steps.length > 0 && (
				<p className="muted">
					Say when you mean to {verb}, and every start is worked back from it.
				</p>
			)}
			<ProblemAlert error={log.save.error ?? log.mark.error} />
		</Card>
	);
}

interface NextProps {
	step: ClockStep;
	arm: string;
	now: number;
	zone: string;
}

/** What is next, and in how long. */
function Next({ step, arm, now, zone }: NextProps) {
	const state = stateOf(step, now);
	const wait = Date.parse(step.start) - now;
	const says = {
		running: `ends in ${long(left(step, now))}`,
		over: `is over since ${long(left(step, now))}: take them out`,
		late: `should have started ${long(wait)} ago`,
		coming: `starts in ${long(wait)}, ${moment(step.start, zone)}`,
		done: "",
	}[state];
	return (
		<p
			className={`${styles.next} ${state === "over" || state === "late" ? styles.overdue : ""}`}
			role="status"
		>
			<span>Next</span>
			<strong dir="auto">
				{step.name} of {arm}
			</strong>
			<span className={styles.when}>{says}</span>
		</p>
	);
}

interface StepRowProps {
	step: ClockStep;
	trial: Trial;
	now: number;
	log: PrepareLog;
	isTimed: boolean;
}

function StepRow({ step, trial, now, log, isTimed }: StepRowProps) {
	const arm = trial.plan.treatments[step.treatment];
	const zone = trial.plan.time_zone;
	const state = stateOf(step, now);
	const named = `${step.name} of ${arm?.name ?? ""}`;
	const canMark = trial.status === "draft" || (trial.today ?? 0) <= 1;
	const mark = (what: "start" | "stop" | "void") => log.mark.mutate({ step: step.key, what });
	return (
		<li className={`${styles.step} ${styles[state]}`}>
			{arm && <SilkSquare id={arm.silk} size={26} />}
			<div className={styles.stepWhat}>
				<strong dir="auto">{arm?.name}</strong>
				<span>
					{step.name}, {minutesSaid(step.minutes)}
				</span>
				{isTimed && (
					<span className="muted">
						{moment(step.start, zone)}
						{step.minutes >= 1 && ` → ${moment(step.stop, zone)}`}
					</span>
				)}
				{step.says && <span>{step.says}</span>}
			</div>
			{state === "running" || state === "over" ? (
				<div className={styles.timer} role="timer" aria-label={named}>
					{state === "over" ? `+${long(left(step, now))}` : long(left(step, now))}
				</div>
			) : null}
			<div className={styles.stepDo} hidden={!canMark}>
				{!step.started_at && (
					<Button
						size="sm"
						variant="default"
						onClick={() => mark("start")}
						aria-label={`Start ${named}`}
					>
						Start
					</Button>
				)}
				{step.started_at && !step.stopped_at && (
					<Button size="sm" onClick={() => mark("stop")} aria-label={`Stop ${named}`}>
						Stop
					</Button>
				)}
				{step.started_at && (
					<Button
						size="sm"
						variant="subtle"
						color="moss"
						onClick={() => mark("void")}
						aria-label={`Undo ${named}`}
					>
						Undo
					</Button>
				)}
			</div>
		</li>
	);
}

function ClockFields({ trial, found, log }: ClockCardProps) {
	const sent = asSent(found);
	const send = (change: Partial<Prepared>) => log.save.mutate({ ...sent, ...change });
	const isSeed = trial.plan.kind === "seed";
	return (
		<div className={styles.fields}>
			<TextInput
				type="datetime-local"
				size="sm"
				label={isSeed ? "Sowing starts at" : "Sticking starts at"}
				key={found.set_at}
				defaultValue={found.set_at}
				onBlur={(e) =>
					e.currentTarget.value !== found.set_at && send({ set_at: e.currentTarget.value })
				}
			/>
			<NumberField
				size="sm"
				label="Seconds per plant"
				min={0}
				max={86400}
				value={found.unit_seconds}
				onCommit={(value) => send({ unit_seconds: value })}
			/>
			<div className={styles.together}>
				<span id="together">Soaks</span>
				<SegmentedControl
					aria-labelledby="together"
					size="sm"
					value={found.start_together ? "start" : "in"}
					onChange={(v) => send({ start_together: v === "start" })}
					data={[
						{ value: "in", label: "finish together" },
						{ value: "start", label: "start together" },
					]}
				/>
			</div>
			{(found.clock.asks_day0 || found.day0 === "first wetting") && (
				<NativeSelect
					size="sm"
					label="Day 0 is"
					value={found.day0}
					onChange={(e) => send({ day0: e.currentTarget.value as Prepared["day0"] })}
					data={[
						{ value: "first wetting", label: "the first wetting, for all" },
						isSeed
							? { value: "sowing", label: "each treatment's own sowing" }
							: { value: "sticking", label: "each treatment's own sticking" },
					]}
				/>
			)}
		</div>
	);
}
