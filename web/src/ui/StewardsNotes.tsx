import type { Note } from "@/api/client";
import { Card } from "./Card";
import { NoteText } from "./NoteText";
import { Term } from "./Term";

/** Objections to the trial's validity: one sentence each, and one thing to do. */
export function StewardsNotes({
	notes,
	none,
	checked,
}: {
	notes: Note[];
	none: string;
	/** How many checks ran, and which could not. */
	checked?: string;
}) {
	return (
		<Card
			title="Stewards' notes"
			edge="clay"
			aside={<Term name="note, stewards' note">objections to this trial</Term>}
		>
			{notes.length === 0 ? (
				<p>{none}</p>
			) : (
				<ul style={{ margin: 0, paddingLeft: 18, display: "grid", gap: 8 }}>
					{notes.map((n) => (
						<li key={n.code + n.message}>
							<NoteText note={n} />
						</li>
					))}
				</ul>
			)}
			{checked && (
				<p className="muted" style={{ marginTop: 8 }}>
					{checked}
				</p>
			)}
		</Card>
	);
}
