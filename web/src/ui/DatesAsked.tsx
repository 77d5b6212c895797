import { Button, Group } from "@mantine/core";
import { ApiProblem } from "@/api/client";
import { ProblemAlert } from "./ProblemAlert";

export type DateOrder = "day-first" | "month-first";

/** The two ways a date in figures can be written. */
export function OrderButtons({ answer }: { answer: (order: DateOrder) => void }) {
	return (
		<Group mt="sm" gap="sm">
			<Button variant="default" onClick={() => answer("day-first")}>
				The day comes first
			</Button>
			<Button variant="default" onClick={() => answer("month-first")}>
				The month comes first
			</Button>
		</Group>
	);
}

/** What went wrong with a sheet; dates that could be read two ways are asked about on the spot. */
export function SheetProblem({
	error,
	answer,
}: {
	error: unknown;
	answer: (order: DateOrder) => void;
}) {
	const isAsked = error instanceof ApiProblem && error.code === "dates_asked";
	return <ProblemAlert error={error}>{isAsked && <OrderButtons answer={answer} />}</ProblemAlert>;
}
