import { Button, Loader, SegmentedControl } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, body } from "@/api/client";
import { key } from "@/api/keys";
import { Card } from "@/ui/Card";
import { Lanes } from "@/ui/finish/Lanes";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { faultOf } from "@/ui/Unopened";
import styles from "./DryRun.module.css";
import type { Carried } from "./dryrun";

const KINDS = ["unlucky", "typical", "lucky"] as const;

/** One race of a dry run at a time: what a luckier or an unluckier season looks like. */
export function SeasonView({ at, carried }: { at: string; carried: Carried }) {
	const { seasons, done } = carried.result;
	const [number, setNumber] = useState<number>(seasons[1] ?? 0);
	const [kind, job] = at.startsWith("jobs/") ? ["job", at.slice(5)] : ["kept", at];
	const season = useQuery({
		queryKey: key("dry-season", at, number),
		queryFn: () =>
			kind === "job"
				? body(
						api.GET("/api/dry-runs/jobs/{job_id}/seasons/{number}", {
							params: { path: { job_id: job ?? "", number } },
						}),
					)
				: body(
						api.GET("/api/dry-runs/{run_id}/seasons/{number}", {
							params: { path: { run_id: job ?? "", number } },
						}),
					),
		enabled: done > 0,
	});
	if (done === 0) return null;
	const chosen = seasons.indexOf(number);
	return (
		<Card title="One simulated trial" aside={`season ${number + 1} of ${done}`}>
			<div className={styles.buttons}>
				<SegmentedControl
					aria-label="Which simulation"
					value={chosen >= 0 ? `${chosen}` : ""}
					onChange={(v) => setNumber(seasons[Number(v)] ?? 0)}
					data={KINDS.map((label, i) => ({ value: `${i}`, label }))}
				/>
				<Button variant="default" onClick={() => setNumber((number + 1) % done)}>
					Another
				</Button>
			</div>
			{season.isPending && <Loader role="status" aria-label="Drawing" />}
			<ProblemAlert error={faultOf(season)} />
			{season.data && (
				<>
					<p className={styles.headline}>{season.data.finish.headline}</p>
					<Lanes finish={season.data.finish} kind={season.data.kind} />
				</>
			)}
		</Card>
	);
}
