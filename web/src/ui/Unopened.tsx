import { ProblemAlert } from "./ProblemAlert";
import { Waiting, type WaitingProps } from "./Waiting";

/** What the server was asked. */
export interface Asked {
	data: unknown;
	error: unknown;
}

/**
 * What failed and left nothing to show; null otherwise.
 *
 * What was told once stays on the page though asking anew fails, so that nobody loses the tray in mid-round
 * or a form half filled in: `OldBanner` says that it is old.
 */
export function faultOf(...asked: readonly Asked[]): unknown {
	return asked.find((a) => a.error && a.data === undefined)?.error ?? null;
}

/** A page that has nothing to show yet: in grey while it is asked for, or what failed. */
export function Unopened({ of, ...waiting }: WaitingProps & { of: readonly Asked[] }) {
	const fault = faultOf(...of);
	return fault ? <ProblemAlert error={fault} /> : <Waiting {...waiting} />;
}
