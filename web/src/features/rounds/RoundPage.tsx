import { Loader } from "@mantine/core";
import { useParams } from "react-router";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { RoundsNav } from "@/ui/RoundsNav";
import { useLadder, useReference } from "@/ui/reference";
import { TrialHeader } from "@/ui/TrialHeader";
import { useTrial } from "@/ui/useTrial";
import { RoundDesk } from "./RoundDesk";
import { useRound } from "./useRound";

/** One round of a trial, from the course line or from Today. */
export function RoundPage() {
	const { trialId = "", day: dayText = "" } = useParams();
	const day = Number(dayText);
	const trial = useTrial(trialId);
	const round = useRound(trialId, day);
	const ladder = useLadder(trial.data?.plan.kind);
	const reference = useReference();
	if (trial.error) return <ProblemAlert error={trial.error} />;
	if (!trial.data) return <Loader aria-label="Loading" />;
	return (
		<>
			<TrialHeader trial={trial.data} open={day} compact />
			<RoundsNav trialId={trialId} />
			<ProblemAlert error={round.error} />
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
