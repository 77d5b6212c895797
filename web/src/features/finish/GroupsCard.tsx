import { Button, Group } from "@mantine/core";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Schemas, type Trial } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { points } from "@/core/text";
import { Card } from "@/ui/Card";
import { spanOfTens } from "@/ui/chart/scale";
import { GapAxis, GapRow } from "@/ui/finish/GapRow";
import { GroupChooser, type Groups } from "@/ui/GroupChooser";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { faultOf } from "@/ui/Unopened";
import { WhyNot } from "@/ui/WhyNot";

const NONE: Groups = { one: [], zero: [] };

/** Groups of treatments against each other: those the plan declared, and one asked for now. */
export function GroupsCard({ trial }: { trial: Trial }) {
	const [chosen, setChosen] = useState(NONE);
	const [asked, setAsked] = useState(NONE);
	const found = useQuery({
		queryKey: ofTrial(trial.id, "contrasts", asked),
		queryFn: () =>
			body(
				api.GET("/api/trials/{trial_id}/contrasts", {
					params: { path: { trial_id: trial.id }, query: asked },
				}),
			),
		placeholderData: keepPreviousData,
		retry: false,
	});
	const why =
		chosen.one.length === 0 || chosen.zero.length === 0
			? "Put a treatment or more into each group."
			: "";
	return (
		<Card title="Groups compared" aside="difference in points, 95 % confidence interval">
			{(found.data ?? []).map((c) => (
				<OneContrast key={`${c.one} ${c.zero} ${c.is_declared}`} contrast={c} trial={trial} />
			))}
			<ProblemAlert error={faultOf(found)} />
			<p className="muted">
				Compare two groups now: it was not declared before the start, and is marked so.
			</p>
			<GroupChooser treatments={trial.plan.treatments} groups={chosen} onChange={setChosen} />
			<Group gap="sm">
				<Button variant="default" disabled={why !== ""} onClick={() => setAsked(chosen)}>
					Compare these groups
				</Button>
				<WhyNot>{why}</WhyNot>
			</Group>
		</Card>
	);
}

function OneContrast({ contrast: c, trial }: { contrast: Schemas["ContrastOut"]; trial: Trial }) {
	const names = (group: number[]) => group.map((i) => trial.plan.treatments[i]?.name).join(" and ");
	const ends = [c.gap?.low, c.gap?.high, c.gap?.estimate].filter((v): v is number => v != null);
	const span = spanOfTens(ends.map((v) => 100 * v));
	return (
		<section aria-label={`${names(c.one)} against ${names(c.zero)}`}>
			<ul>
				{c.says.map((s) => (
					<li key={s}>{s}</li>
				))}
			</ul>
			<GapRow
				name={c.is_declared ? "declared" : "after the fact"}
				gap={c.gap}
				span={span}
				said={c.gap ? points(c.gap.estimate) : "no comparison"}
				hollow={!c.is_declared}
			>
				<strong>{c.gap ? points(c.gap.estimate) : "no comparison"}</strong>
			</GapRow>
			<GapAxis span={span} />
		</section>
	);
}
