import type { ReactNode } from "react";
import type { Finish } from "@/api/client";
import styles from "./Finish.module.css";

export interface AnswerCardProps {
	answer: NonNullable<Finish["answer"]>;
	/** What can be done about it. */
	children?: ReactNode;
}

/** The answer: what happened, how sure that is, the biggest doubt, and the next step. */
export function AnswerCard({ answer: a, children }: AnswerCardProps) {
	return (
		<section className={styles.answer} aria-label="The answer" data-kind={a.kind}>
			<span className={styles.answerChip}>{a.chip}</span>
			<p className={styles.headline}>{a.happened}</p>
			{a.sure && <p>{a.sure}</p>}
			{a.doubt && (
				<p>
					<strong className={styles.answerDoubt}>Biggest doubt:</strong> {a.doubt}.
				</p>
			)}
			{a.next && (
				<p>
					<strong className={styles.answerNext}>Next:</strong> {a.next}.
				</p>
			)}
			{children}
		</section>
	);
}
