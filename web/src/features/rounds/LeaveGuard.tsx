import { UnstyledButton } from "@mantine/core";
import { useEffect } from "react";
import type { PlanRead, Round } from "@/api/client";
import { count } from "@/core/text";
import { useLeaveGuard } from "@/ui/routing";
import { Sheet } from "@/ui/Sheet";
import styles from "./Rounds.module.css";
import { shortOf, tally } from "./round";

export interface LeaveGuardProps {
	round: Round;
	plan: PlanRead;
	/** Things that wait on this device. */
	waiting: number;
	/** A reload would find the page without the shed. */
	opensAlone: boolean;
}

/** Leaving a round half made says which arms are short; closing warns where taps could not come back. */
export function LeaveGuard({ round, plan, waiting, opensAlone }: LeaveGuardProps) {
	const figures = tally(round, plan.endpoint);
	const isHalf = figures.seen > 0 && !figures.isComplete;
	const { isAsked, stay, leave } = useLeaveGuard(isHalf);
	useEffect(() => {
		if (waiting === 0 || opensAlone) return;
		const warn = (e: BeforeUnloadEvent) => e.preventDefault();
		window.addEventListener("beforeunload", warn);
		return () => window.removeEventListener("beforeunload", warn);
	}, [waiting, opensAlone]);
	const short = shortOf(round, plan.treatments);
	const units = short.open.slice(0, 12).join(", ");
	return (
		<Sheet opened={isAsked} onClose={stay} title="Round not complete" isAboutLeaving>
			<p>
				{count(short.open.length, "unit")} not looked at
				{short.arms.length > 0 ? `: short are ${short.arms.join(", ")}.` : "."}
			</p>
			<p className="muted">
				{units}
				{short.open.length > 12 && ` and ${short.open.length - 12} more`}. Your entries are saved;
				these count as not looked at, so their dates are less exact.
			</p>
			<div className={styles.ask}>
				<UnstyledButton data-autofocus onClick={stay}>
					Continue round
				</UnstyledButton>
				<UnstyledButton onClick={leave}>Leave for now</UnstyledButton>
			</div>
		</Sheet>
	);
}
