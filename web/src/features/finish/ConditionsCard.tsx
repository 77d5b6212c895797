import { useQuery } from "@tanstack/react-query";
import { api, body, type Trial } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { Card } from "@/ui/Card";
import { CurveDrawing } from "@/ui/CurveDrawing";

/** The conditions the trial ran under, along its course. */
export function ConditionsCard({ trial }: { trial: Trial }) {
	const { data } = useQuery({
		queryKey: ofTrial(trial.id, "conditions"),
		queryFn: () =>
			body(
				api.GET("/api/trials/{trial_id}/conditions", {
					params: { path: { trial_id: trial.id } },
				}),
			),
	});
	const curves = data?.curves.filter((c) => c.days.length > 0) ?? [];
	if (curves.length === 0) return null;
	return (
		<Card
			title="Conditions during the trial"
			picture="conditions"
			aside={[...new Set(curves.map((c) => c.place))].join(" · ")}
		>
			{curves.map((c) => (
				<div key={`${c.place}${c.quantity}`}>
					<h3>{c.label}</h3>
					<p className="muted">{c.says}</p>
					<CurveDrawing trial={trial} curve={c} />
				</div>
			))}
		</Card>
	);
}
