import { Button, Checkbox } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body } from "@/api/client";
import { key } from "@/api/keys";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import styles from "./DryRun.module.css";
import { designSays } from "./dryrun";
import { Outcome, Tallies } from "./Outcome";

/** Dry runs that were kept: two of them side by side show which design earns its pots. */
export function KeptRuns() {
	const queries = useQueryClient();
	const kept = useQuery({
		queryKey: key("dry-runs"),
		queryFn: () => body(api.GET("/api/dry-runs")),
	});
	const [chosen, setChosen] = useState<string[]>([]);
	const drop = useMutation({
		mutationFn: (run_id: string) =>
			body(api.DELETE("/api/dry-runs/{run_id}", { params: { path: { run_id } } })),
		onSuccess: () => queries.invalidateQueries({ queryKey: key("dry-runs") }),
	});
	const runs = kept.data ?? [];
	if (runs.length === 0) return <ProblemAlert error={kept.error} />;
	const toggle = (id: string) =>
		setChosen((c) => (c.includes(id) ? c.filter((x) => x !== id) : [...c, id].slice(-2)));
	const shown = chosen
		.map((id) => runs.find((r) => r.id === id))
		.filter((r): r is (typeof runs)[number] => r !== undefined);
	const [only] = shown;
	return (
		<>
			<Card title="Saved simulations" aside="select one to open, two to compare">
				<ul className={styles.kept}>
					{runs.map((r) => (
						<li key={r.id}>
							<Checkbox
								checked={chosen.includes(r.id)}
								onChange={() => toggle(r.id)}
								label={
									<span>
										<strong dir="auto">{r.name}</strong>
										<span className="muted">
											{" "}
											{designSays(r.carried.design)}; {r.carried.result.done} seasons
											{r.invented ? " · invented demo data" : ""}
										</span>
									</span>
								}
							/>
							<Button size="sm" variant="subtle" color="clay" onClick={() => drop.mutate(r.id)}>
								Delete<span className="visually-hidden"> {r.name}</span>
							</Button>
						</li>
					))}
				</ul>
				<ProblemAlert error={drop.error} />
			</Card>
			{shown.length === 2 && (
				<div className={styles.compare}>
					{shown.map((r) => (
						<Card key={r.id} title={r.name} aside={designSays(r.carried.design)}>
							<Tallies carried={r.carried} />
							<ul className={styles.says}>
								{r.carried.result.says.map((s) => (
									<li key={s}>{s}</li>
								))}
							</ul>
						</Card>
					))}
				</div>
			)}
			{shown.length === 1 && only && <Outcome carried={only.carried} at={only.id} />}
		</>
	);
}
