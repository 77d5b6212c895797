import { useEffect } from "react";
import { ApiProblem } from "@/api/client";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { RoundsNav } from "@/ui/RoundsNav";
import { useReference, useStageScale } from "@/ui/reference";
import { useNavigate, useParams } from "@/ui/routing";
import { TrialHeader } from "@/ui/TrialHeader";
import { faultOf, Unopened } from "@/ui/Unopened";
import { useTrial } from "@/ui/useTrial";
import { Waiting } from "@/ui/Waiting";
import { ExtendCard } from "./ExtendCard";
import { RoundDesk } from "./RoundDesk";
import { useRound } from "./useRound";

/** One round of a trial, from the course line or from Today. */
export function RoundPage() {
	const { trialId = "", day: dayText = "" } = useParams();
	const day = Number(dayText);
	const trial = useTrial(trialId);
	const round = useRound(trialId, day);
	const ladder = useStageScale(trial.data?.plan);
	const reference = useReference();
	const navigate = useNavigate();
	const today = trial.data?.today;
	useEffect(() => {
		// left open past midnight: what is tapped now was seen today, so the page goes on to today's round
		if (round.hasTurned && today != null && today > day)
			navigate(`/trials/${trialId}/rounds/${today}`, { replace: true });
	}, [round.hasTurned, today, day, trialId, navigate]);
	const fault = faultOf(round);
	const isPast = fault instanceof ApiProblem && fault.code === "look_past_end" && today != null;
	if (!trial.data) return <Unopened of={[trial]} shape="tray" headed />;
	return (
		<>
			<TrialHeader trial={trial.data} open={day} compact />
			<RoundsNav trialId={trialId} />
			{isPast ? <ExtendCard trial={trial.data} day={day} /> : <ProblemAlert error={fault} />}
			{!fault && !(round.round && ladder && reference) && <Waiting shape="tray" />}
			{round.round && ladder && reference && (
				<RoundDesk
					key={day}
					trial={trial.data}
					round={round.round}
					ladder={ladder}
					reference={reference}
					log={round}
				/>
			)}
		</>
	);
}
