import { useState } from "react";
import { ApiProblem, type MixSum } from "@/api/client";
import { Card } from "@/ui/Card";
import { CardActions } from "@/ui/mixing/CardActions";
import { MixCard } from "@/ui/mixing/MixCard";
import { filled, SumForm, startOf } from "@/ui/mixing/SumForm";
import { useMixingBench, useRemember, useSettled, useSum } from "@/ui/mixing/useMix";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link, useParams, useSearchParams } from "@/ui/routing";
import styles from "./MixingPage.module.css";

/** One sum with its fields; it starts with an example, and works while one types. */
export function SumPage() {
	const { key = "" } = useParams();
	const bench = useMixingBench();
	if (!bench) return null;
	const sum = bench.sums.find((s) => s.key === key);
	if (!sum) {
		return (
			<>
				<h1>Calculation not found</h1>
				<p>
					Go back to the <Link to="/mixing">mixing bench</Link>.
				</p>
			</>
		);
	}
	return <Worked key={key} sum={sum} />;
}

function Worked({ sum }: { sum: MixSum }) {
	const [params] = useSearchParams();
	const given = Object.fromEntries(params);
	const [values, setValues] = useState<Record<string, string>>(
		Object.keys(given).length > 0 ? given : startOf(sum),
	);
	const asked = useSettled(filled(values), 250);
	const { data: card, error, isFetching } = useSum(sum.key, asked);
	const remember = useRemember();
	const problem = error instanceof ApiProblem ? error : null;
	const isElsewhere = problem?.errors.every((e) => !e.pointer.startsWith("/fields/"));
	return (
		<>
			<nav className={`${styles.back} no-print`} aria-label="Back">
				<Link to="/mixing">Mixing</Link> · {sum.room}
			</nav>
			<h1>{sum.title}</h1>
			<p className="muted">{sum.answers}</p>
			<div className={styles.worked}>
				<Card className="no-print">
					<SumForm sum={sum} values={values} onChange={setValues} problem={problem} />
				</Card>
				<div>
					{(isElsewhere || (error && !problem)) && <ProblemAlert error={error} />}
					{problem && !isElsewhere && (
						<p role="status" className={styles.waiting}>
							{problem.errors[0]?.detail}
						</p>
					)}
					{card && !error && (
						<MixCard
							card={card}
							isBusy={isFetching}
							onAnswer={(k, v) => remember.mutate({ [k]: v })}
						>
							<CardActions card={card} key={card.text} />
						</MixCard>
					)}
				</div>
			</div>
		</>
	);
}
