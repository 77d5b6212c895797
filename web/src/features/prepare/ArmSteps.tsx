import { Button, NativeSelect, TextInput, UnstyledButton } from "@mantine/core";
import { useState } from "react";
import type { Prepare, Trial } from "@/api/client";
import { minutesSaid, minutesTyped } from "./clock";
import styles from "./Prepare.module.css";
import { asSent, type PrepareLog } from "./usePrepare";

export interface ArmStepsProps {
	trial: Trial;
	found: Prepare;
	log: PrepareLog;
}

type Steps = { name: string; minutes: number }[];

/** Keep the soaks and dips of one treatment as the grower has said them. */
function useSteps(found: Prepare, log: PrepareLog) {
	return (arm: number, steps: Steps) => {
		const sent = asSent(found);
		const arms = sent.arms.map((a, i) => (i === arm ? { ...a, steps, steps_settled: true } : a));
		log.save.mutate({ ...sent, arms });
	};
}

/** Soaks read from a treatment's words: each is asked about, and none is on the clock before. */
export function ProposedSteps({ trial, found, log }: ArmStepsProps) {
	const set = useSteps(found, log);
	const open = found.arms.flatMap((arm, i) => (arm.proposed.length > 0 ? [{ arm, i }] : []));
	if (open.length === 0) return null;
	return (
		<section className={styles.proposed} aria-label="Soaks to confirm">
			<p>
				The words of {open.length === 1 ? "one treatment" : `${open.length} treatments`} speak of a
				soak or dip. None is on the clock until you confirm it.
			</p>
			<ul className={styles.armSteps}>
				{open.map(({ arm, i }) => {
					const name = trial.plan.treatments[i]?.name ?? "";
					const said = arm.proposed
						.map((s) => `${s.name} ${minutesSaid(s.minutes)}`)
						.join(", then ");
					return (
						<li key={name}>
							<span>
								<strong dir="auto">{name}</strong>: {said}?
							</span>
							<Button
								size="sm"
								onClick={() => set(i, arm.proposed)}
								aria-label={`Confirm ${said} for ${name}`}
							>
								Confirm
							</Button>
							<Button
								size="sm"
								variant="default"
								onClick={() => set(i, [])}
								aria-label={`No soak for ${name}`}
							>
								No soak
							</Button>
						</li>
					);
				})}
			</ul>
		</section>
	);
}

/** The soaks and dips of each treatment, to add and to remove. */
export function ArmSteps({ trial, found, log }: ArmStepsProps) {
	const set = useSteps(found, log);
	return (
		<details className={styles.more} open={found.clock.steps.length === 0}>
			<summary>Soaks and dips per treatment</summary>
			<ul className={styles.armSteps}>
				{trial.plan.treatments.map((t, i) => (
					<ArmStep
						key={t.name}
						name={t.name}
						steps={found.arms[i]?.steps ?? []}
						onSet={(steps) => set(i, steps)}
					/>
				))}
			</ul>
		</details>
	);
}

interface ArmStepProps {
	name: string;
	steps: Steps;
	onSet: (steps: Steps) => void;
}

function ArmStep({ name, steps, onSet }: ArmStepProps) {
	const [text, setText] = useState("");
	const [what, setWhat] = useState("soak");
	const [isTried, setTried] = useState(false);
	const minutes = minutesTyped(text);
	const add = () => {
		setTried(minutes === null);
		if (minutes === null) return;
		onSet([...steps, { name: what, minutes }]);
		setText("");
	};
	return (
		<li>
			<strong dir="auto">{name}</strong>
			{steps.map((s, i) => (
				<span key={`${s.name} ${s.minutes}`} className={styles.chip}>
					{s.name} {minutesSaid(s.minutes)}
					<UnstyledButton
						aria-label={`Remove ${s.name} of ${name}`}
						onClick={() => onSet(steps.filter((_, j) => j !== i))}
					>
						×
					</UnstyledButton>
				</span>
			))}
			<span className={styles.addStep}>
				<NativeSelect
					size="xs"
					aria-label={`Kind of step for ${name}`}
					value={what}
					data={["soak", "dip", "steep", "chill", "wait"]}
					onChange={(e) => setWhat(e.currentTarget.value)}
				/>
				<TextInput
					size="xs"
					w={130}
					aria-label={`How long for ${name}`}
					placeholder="12 h"
					value={text}
					error={
						minutes === null && (text.trim() !== "" || isTried)
							? "A time is wanted, such as 12 h, 1h30 or overnight."
							: undefined
					}
					onChange={(e) => setText(e.currentTarget.value)}
					onKeyDown={(e) => e.key === "Enter" && add()}
				/>
				<Button size="xs" variant="default" aria-label={`Add a step to ${name}`} onClick={add}>
					Add
				</Button>
			</span>
		</li>
	);
}
