import type { OutboxState } from "@/api/outbox";
import { settleRefused, waitingIn } from "@/api/outbox";
import { count } from "@/core/text";
import styles from "./Rounds.module.css";

export interface WaitingLineProps {
	outbox: OutboxState;
	isComplete: boolean;
	/** A reload would find the page without the shed. */
	opensAlone: boolean;
}

/** What is kept where: on this device, in the shed, or refused and waiting for the grower. */
export function WaitingLine({ outbox, isComplete, opensAlone }: WaitingLineProps) {
	const waiting = waitingIn(outbox);
	return (
		<>
			<p className="muted" role="status">
				{waiting > 0
					? `${count(waiting, "tap")} kept on this device, ${
							outbox.isShutOut
								? "but its key is not good any more: join the shed again"
								: outbox.isOut
									? "the shed does not answer; it is tried again"
									: "being sent"
						}.`
					: isComplete
						? "Round complete: every unit with something left to see was looked at."
						: "All taps are in the shed. A unit left grey counts as not looked at."}
				{waiting > 0 && !opensAlone && " Do not close this page: opening it again needs the shed."}
			</p>
			{outbox.fault && (
				<p role="alert" className={styles.warned}>
					{outbox.fault}
				</p>
			)}
			<Refusals outbox={outbox} />
		</>
	);
}

/** What the shed did not take, with its sentence, until the grower decides. */
export function Refusals({ outbox }: { outbox: OutboxState }) {
	return (
		<>
			{outbox.refused.map((r) => (
				<div key={r.n} role="alert" className={styles.refused}>
					<p>
						The shed did not take one {r.kind === "look" ? "tap" : r.kind}: {r.says} It is kept
						here.
					</p>
					<button type="button" onClick={() => void settleRefused(r.n ?? 0, true)}>
						Try again
					</button>
					<button type="button" onClick={() => void settleRefused(r.n ?? 0, false)}>
						Let it go
					</button>
				</div>
			))}
		</>
	);
}
