import { Checkbox } from "@mantine/core";
import { codedStages, useStageScale } from "@/ui/reference";
import styles from "./Plan.module.css";
import type { CardProps } from "./QuestionCard";

/** Stages counted in each container of many beside the one that counts: each is a history of its own. */
export function AlsoCounted({ plan, set, fault }: Pick<CardProps, "plan" | "set" | "fault">) {
	const scale = useStageScale(plan);
	const chosen = plan.also_counted ?? [];
	// what was chosen stays in sight, so that it can be taken back where it does not fit any more
	if (!scale || ((plan.per_container ?? 1) === 1 && chosen.length === 0)) return null;
	return (
		<fieldset className={styles.checks}>
			<legend>Also count in each container</legend>
			{codedStages(scale)
				.filter((s) => s.code > 0 && (s.code !== plan.endpoint || chosen.includes(s.code)))
				.map((s) => (
					<Checkbox
						key={s.code}
						label={s.name}
						checked={chosen.includes(s.code)}
						onChange={(e) =>
							set({
								also_counted: e.currentTarget.checked
									? [...chosen, s.code].sort((a, b) => a - b)
									: chosen.filter((c) => c !== s.code),
							})
						}
					/>
				))}
			{fault("also_counted") && (
				<p role="alert" className={styles.fault}>
					{fault("also_counted")}
				</p>
			)}
		</fieldset>
	);
}
