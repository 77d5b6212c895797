import { useQuery } from "@tanstack/react-query";
import { api, body } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { Card } from "@/ui/Card";
import { Link } from "@/ui/routing";

/** Who scored the roots: how far two agreed, and how each does with roots of known score. */
export function ScorersCard({ trialId }: { trialId: string }) {
	const path = { trial_id: trialId };
	const { data } = useQuery({
		queryKey: ofTrial(trialId, "agreement"),
		queryFn: () => body(api.GET("/api/trials/{trial_id}/agreement", { params: { path } })),
	});
	if (!data || data.trained.length === 0) return null;
	return (
		<Card title="Who scored the roots">
			<p>{data.says}</p>
			<ul>
				{data.trained.map((s) => (
					<li key={s} dir="auto">
						{s}
					</li>
				))}
			</ul>
			<Link to="/library/trainer">Scorer trainer</Link>
		</Card>
	);
}
