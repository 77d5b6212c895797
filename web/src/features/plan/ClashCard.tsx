import { Button, Radio } from "@mantine/core";
import { useState } from "react";
import type { Plan } from "@/api/client";
import { Card } from "@/ui/Card";
import styles from "./Plan.module.css";
import type { Clash, Draft } from "./plan";
import type { Clashing } from "./usePlan";

const LABELS: Partial<Record<keyof Plan, string>> = {
	question: "What do you want to find out?",
	material: "Plants",
	treatments: "Treatments",
	units: "How many of each treatment",
	per_container: "Plants in each container",
	blocks: "Blocks",
	length_days: "Last day",
	look_every_days: "Look on days",
	look_days: "Look on days",
	columns: "Columns per tray",
	gap_points: "Smallest difference that matters",
	expected_percent: "Usual rate of the control",
};

export interface ClashCardProps {
	clashing: Clashing;
	/** The draft with what was chosen for each field, ready to be saved. */
	onChosen: (draft: Draft) => void;
}

/** Two people changed the same plan: both are shown, and each field is chosen. */
export function ClashCard({ clashing, onChosen }: ClashCardProps) {
	const [theirs, setTheirs] = useState<ReadonlySet<keyof Plan>>(new Set());
	const choose = (field: keyof Plan, isTheirs: boolean) => {
		const next = new Set(theirs);
		if (isTheirs) next.add(field);
		else next.delete(field);
		setTheirs(next);
	};
	const settle = () => {
		const plan: Record<string, unknown> = { ...clashing.mine.plan };
		for (const c of clashing.clashes) if (theirs.has(c.field)) plan[c.field] = c.theirs;
		onChosen({ ...clashing.mine, plan: plan as Plan });
	};
	return (
		<Card title="Somebody else changed this plan meanwhile">
			<p role="alert">
				Nothing of yours is lost. What only one of you changed is put together; for the rest choose
				which stands.
			</p>
			{clashing.clashes.map((c) => (
				<fieldset key={c.field} className={styles.clash}>
					<legend>{LABELS[c.field] ?? c.field.replaceAll("_", " ")}</legend>
					{[false, true].map((isTheirs) => (
						<Radio
							key={String(isTheirs)}
							name={`clash-${c.field}`}
							label={
								<>
									{isTheirs ? "saved meanwhile" : "yours"}:{" "}
									<span dir="auto">{said(c, isTheirs)}</span>
								</>
							}
							checked={theirs.has(c.field) === isTheirs}
							onChange={() => choose(c.field, isTheirs)}
						/>
					))}
				</fieldset>
			))}
			<Button onClick={settle}>Save with these</Button>
		</Card>
	);
}

function said(clash: Clash, isTheirs: boolean): string {
	const value = isTheirs ? clash.theirs : clash.mine;
	if (clash.field === "treatments" && Array.isArray(value))
		return value.map((t: { name: string }) => t.name).join(", ");
	if (Array.isArray(value)) return value.length ? value.map(String).join(", ") : "none";
	if (typeof value === "boolean") return value ? "yes" : "no";
	return value === "" || value == null ? "nothing" : String(value);
}
