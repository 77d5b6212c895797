import { UnstyledButton } from "@mantine/core";
import type { Plan } from "@/api/client";
import styles from "./Plan.module.css";
import { useUsual } from "./usePlan";

export interface OwnNumberProps {
	plan: Plan;
	/** How alike plants of one container are, or how much plants treated alike differ. */
	what: "icc" | "spread";
	onUse: (value: number) => void;
}

/** What the grower's own trials say of a number of the plan, a click away from being taken. */
export function OwnNumber({ plan, what, onUse }: OwnNumberProps) {
	const own = useUsual(plan)?.[what];
	if (!own) return null;
	return (
		<p className={styles.hint}>
			{own.says}{" "}
			<UnstyledButton className={styles.link} onClick={() => onUse(own.value)}>
				use {own.value}
			</UnstyledButton>
		</p>
	);
}
