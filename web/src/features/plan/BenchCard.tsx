import { Button, NativeSelect, Switch, TextInput, UnstyledButton } from "@mantine/core";
import { useState } from "react";
import { newSeed } from "@/core/seed";
import { sidesSay } from "@/core/words";
import { Card } from "@/ui/Card";
import { BenchMap, type BenchView } from "./BenchMap";
import styles from "./Plan.module.css";
import { PlanNumber } from "./PlanNumber";
import { type Draft, toggledLock } from "./plan";
import type { CardProps } from "./QuestionCard";

export const VIEWS = [
	{ value: "treatments", label: "Treatments" },
	{ value: "order", label: "Order" },
	{ value: "codes", label: "Blind codes" },
];
const SIDES = ["top", "right", "bottom", "left"];

export interface BenchCardProps extends Omit<CardProps, "replace"> {
	draft: Draft;
	change: (draft: Draft) => void;
}

/** The bench drawn by lot: redrawn, locked, turned to show order or codes, measured out. */
export function BenchCard({ draft, change, plan, set, fault, found }: BenchCardProps) {
	const [view, setView] = useState<BenchView>("treatments");
	const number = { plan, set, fault };
	const lockFault = found?.faults.find((f) => f.pointer.startsWith("/locks"));
	const sides = plan.sides ?? ["", "", "", ""];
	return (
		<Card
			title="Bench"
			className={styles.benchCard}
			aside={
				<>
					{plan.layout === "by hand"
						? "laid by hand"
						: `randomised, seed ${String(draft.seed).slice(0, 8)}`}
					{plan.layout !== "by hand" && (
						<>
							{" · "}
							<UnstyledButton
								className={styles.link}
								onClick={() => change({ ...draft, seed: newSeed() })}
							>
								Randomise again
							</UnstyledButton>
						</>
					)}
				</>
			}
		>
			<div className={styles.benchTools}>
				<NativeSelect
					size="sm"
					aria-label="Tray plan shows"
					value={view}
					data={VIEWS}
					onChange={(e) => setView(e.currentTarget.value as BenchView)}
				/>
				<Button size="sm" variant="default" onClick={() => window.print()}>
					Print tray plan
				</Button>
				{draft.locks.length > 0 && (
					<UnstyledButton className={styles.link} onClick={() => change({ ...draft, locks: [] })}>
						{draft.locks.length === 1 ? "Unlock" : `Unlock all ${draft.locks.length}`}
					</UnstyledButton>
				)}
			</div>
			{lockFault && (
				<p role="alert" className={styles.fault}>
					{lockFault.says}
				</p>
			)}
			<BenchMap
				cells={found?.bench ?? []}
				treatments={plan.treatments}
				sides={sidesSay(sides)}
				trayNames={plan.tray_names ?? []}
				view={view}
				onLock={(cell) => change({ ...draft, locks: toggledLock(draft.locks, cell) })}
			/>
			<details className={styles.more}>
				<summary>Trays, borders and spare cells</summary>
				<div className={styles.pair}>
					<PlanNumber {...number} field="tray_rows" label="Rows per tray" />
					<PlanNumber {...number} field="columns" label="Columns per tray" />
				</div>
				<TextInput
					label="Tray names"
					description="Separated by commas, such as: bench 1 tray A, bench 1 tray B"
					value={(plan.tray_names ?? []).join(",")}
					error={fault("tray_names")}
					onChange={(e) => {
						const names = e.currentTarget.value.split(",").map((n) => n.trimStart());
						set({ tray_names: e.currentTarget.value ? names : [] });
					}}
				/>
				<div className={styles.pair}>
					{SIDES.map((side, i) => (
						<TextInput
							key={side}
							size="sm"
							label={`At the ${side}`}
							placeholder="door, wall, vent, lamp"
							value={sides[i] ?? ""}
							onChange={(e) => {
								const next = sides.map((s, k) => (k === i ? e.currentTarget.value : s));
								set({ sides: next });
							}}
						/>
					))}
				</div>
				<Switch
					label="Fill the edge of each tray with border plants (not counted)"
					checked={plan.border ?? false}
					onChange={(e) => set({ border: e.currentTarget.checked })}
				/>
				{fault("border") && (
					<p role="alert" className={styles.fault}>
						{fault("border")}
					</p>
				)}
				<PlanNumber {...number} field="spare_cells" label="Spare cells, at least" />
			</details>
		</Card>
	);
}
