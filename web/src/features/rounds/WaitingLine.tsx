import { UnstyledButton } from "@mantine/core";
import { ApiProblem } from "@/api/client";
import type { OutboxState } from "@/api/outbox";
import { settleRefused, waitingIn } from "@/api/outbox";
import { count } from "@/core/text";
import styles from "./Rounds.module.css";

export interface WaitingLineProps {
	outbox: OutboxState;
	isComplete: boolean;
	/** A reload would find the page without the shed. */
	opensAlone: boolean;
	/** Why the round could not be asked anew, and when it last was told. */
	fault?: unknown;
	toldAt?: number;
}

const TIME = new Intl.DateTimeFormat(undefined, { hour: "2-digit", minute: "2-digit" });

/** What is kept where: on this device, in the shed, or refused and waiting for the grower. */
export function WaitingLine(props: WaitingLineProps) {
	const { outbox, isComplete, opensAlone, fault, toldAt = 0 } = props;
	const waiting = waitingIn(outbox);
	const isShutOut = outbox.isShutOut || (fault instanceof ApiProblem && fault.status === 401);
	const why = outbox.isOut ? "no connection; it will be tried again" : "sending";
	return (
		<>
			<p className="muted" role="status">
				{waiting > 0
					? `${count(waiting, "tap")} saved on this device${isShutOut ? "" : `, ${why}`}.`
					: outbox.fault
						? "Not everything is saved."
						: isComplete
							? "Round complete."
							: "All saved. Grey means not looked at."}
				{isShutOut && (
					<>
						{" "}
						This device is no longer connected: <a href="/join">connect it again</a>.
					</>
				)}
				{Boolean(fault) && ` What other devices saw since ${TIME.format(toldAt)} is missing here.`}
				{waiting > 0 && !opensAlone && " Keep this page open: it needs the server to open again."}
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
