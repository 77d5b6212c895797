import { TextInput } from "@mantine/core";
import type { Note, Plan } from "@/api/client";
import { Card } from "@/ui/Card";
import { NoteText } from "@/ui/NoteText";
import { Term } from "@/ui/Term";
import styles from "./Plan.module.css";
import { withOverride } from "./plan";

export interface PlanNotesProps {
	plan: Plan;
	notes: Note[];
	/** The plan could be looked over; else nothing is said of it. */
	isWhole: boolean;
	fault: (field: string) => string | undefined;
	replace: (plan: Plan) => void;
}

/** Objections to the plan; those that would stop the start can be overruled with a reason. */
export function PlanNotes({ plan, notes, isWhole, fault, replace }: PlanNotesProps) {
	return (
		<Card
			title="Stewards' notes"
			edge={notes.length > 0 ? "clay" : "plain"}
			aside={<Term name="note, stewards' note">objections to this trial</Term>}
		>
			{notes.length === 0 && (
				<p>
					{isWhole
						? "No objections to this plan."
						: "The check runs once the marked fields are complete."}
				</p>
			)}
			<ul className={styles.notes}>
				{notes.map((n) => (
					<li key={n.code + n.message}>
						<NoteText note={n} />
						{n.may_be_overruled && (
							<TextInput
								size="sm"
								label="Or give your reason for keeping it (it is saved and shown)"
								value={plan.overrides?.find((o) => o.code === n.code)?.reason ?? ""}
								error={fault("overrides")}
								onChange={(e) => replace(withOverride(plan, n.code, e.currentTarget.value))}
							/>
						)}
					</li>
				))}
			</ul>
		</Card>
	);
}
