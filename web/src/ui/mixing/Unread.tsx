import { ApiProblem } from "@/api/client";
import styles from "./Mixing.module.css";
import { parted } from "./unread";

/** The line again, with what was not understood underlined. */
export function Unread({ line, error }: { line: string; error: unknown }) {
	const spans = error instanceof ApiProblem ? (error.errors[0]?.spans ?? []) : [];
	if (spans.length === 0) return null;
	return (
		<p className={styles.unread} dir="auto">
			{parted(line, spans).map((p) =>
				p.isUnread ? <mark key={p.at}>{p.text}</mark> : <span key={p.at}>{p.text}</span>,
			)}
		</p>
	);
}
