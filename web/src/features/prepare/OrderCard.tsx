import { Checkbox } from "@mantine/core";
import { useState } from "react";
import type { Prepare, Trial } from "@/api/client";
import { Card } from "@/ui/Card";
import { SilkSquare } from "@/ui/SilkSquare";
import styles from "./Prepare.module.css";

/** The order of work, made from the plan; ticks are a help for this device, no record. */
export function OrderCard({ trial, found }: { trial: Trial; found: Prepare }) {
	const key = `racecard.order.${trial.id}`;
	const [done, setDone] = useState<string[]>(() => {
		try {
			return JSON.parse(localStorage.getItem(key) ?? "[]") as string[];
		} catch {
			return [];
		}
	});
	const tick = (step: string) => {
		const next = done.includes(step) ? done.filter((d) => d !== step) : [...done, step];
		setDone(next);
		localStorage.setItem(key, JSON.stringify(next));
	};
	const at = found.order.find((o) => !done.includes(o.key));
	return (
		<Card title="Order of work" aside={`${done.length} of ${found.order.length} done`}>
			<ol className={styles.order}>
				{found.order.map((o) => {
					const arm = o.treatment === null ? undefined : trial.plan.treatments[o.treatment];
					return (
						<li key={o.key} className={o === at ? styles.atNow : ""}>
							<Checkbox
								size="md"
								checked={done.includes(o.key)}
								onChange={() => tick(o.key)}
								label={
									<span className={styles.orderLine}>
										{arm && o.key.startsWith("arm") && <SilkSquare id={arm.silk} size={22} />}
										<span dir="auto">
											{o.says}
											{o.why && <span className={styles.orderWhy}> {o.why}</span>}
										</span>
									</span>
								}
							/>
						</li>
					);
				})}
			</ol>
			{found.cautions.length > 0 && (
				<ul className={styles.cautions} aria-label="Cautions">
					{found.cautions.map((c) => (
						<li key={c.code}>{c.says}</li>
					))}
				</ul>
			)}
		</Card>
	);
}
