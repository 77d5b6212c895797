import { Button } from "@mantine/core";
import type { Consequences, Plan } from "@/api/client";
import styles from "./Plan.module.css";

export interface OffersProps {
	plan: Plan;
	found: Consequences | undefined;
	/** Which offers stand here. */
	codes: string[];
	replace: (plan: Plan) => void;
}

/** Changes that one click makes, where the plan does not answer its question. */
export function Offers({ plan, found, codes, replace }: OffersProps) {
	const here = (found?.offers ?? []).filter((o) => codes.includes(o.code));
	return here.map((o) => (
		<div key={o.code} className={styles.offer} role="status">
			<p>{o.says}</p>
			<Button
				variant="default"
				size="sm"
				onClick={() => replace({ ...plan, ...(o.change as Partial<Plan>) })}
			>
				{o.label}
			</Button>
		</div>
	));
}
