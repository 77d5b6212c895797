import { UnstyledButton } from "@mantine/core";
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
					? `${count(waiting, "tap")} saved on this device, ${
							outbox.isShutOut
								? "this device is no longer connected: connect it again"
								: outbox.isOut
									? "no connection; it will be tried again"
									: "sending"
						}.`
					: outbox.fault
						? "Not everything is saved."
						: isComplete
							? "Round complete"
							: "All saved. Grey means not looked at."}
				{waiting > 0 && !opensAlone && " Keep this page open: it needs the server to open again"}
			</p>
			{outbox.fault && (
				<p role="alert" className={styles.notKept}>
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
						The server refused one {r.kind === "look" ? "entry" : r.kind}: {r.says} It is saved
						here.
					</p>
					<UnstyledButton onClick={() => void settleRefused(r.n ?? 0, true)}>
						Try again
					</UnstyledButton>
					<UnstyledButton onClick={() => void settleRefused(r.n ?? 0, false)}>
						Discard
					</UnstyledButton>
				</div>
			))}
		</>
	);
}
