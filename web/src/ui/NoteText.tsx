import type { Note } from "@/api/client";
import styles from "./NoteText.module.css";

/** One objection as it is read: what it is, why, and what to do. */
export function NoteText({ note }: { note: Note }) {
	return (
		<>
			<strong className={styles.title}>{note.title}</strong>
			<p>{note.message}</p>
			<p className={styles.advice}>{note.advice}</p>
		</>
	);
}
