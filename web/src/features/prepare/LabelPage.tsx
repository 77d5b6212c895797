import { useQuery } from "@tanstack/react-query";
import { api, body } from "@/api/client";
import { key } from "@/api/keys";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link, Navigate, useParams } from "@/ui/routing";
import { faultOf } from "@/ui/Unopened";
import { Waiting } from "@/ui/Waiting";

/** Where a label's square code leads: its unit in today's round, or the preparation before day 0. */
export function LabelPage() {
	const { trial = "", code = "" } = useParams();
	const { data, error } = useQuery({
		queryKey: key("code", trial, code),
		retry: false,
		queryFn: () =>
			body(api.GET("/api/codes/{trial}/{code}", { params: { path: { trial, code } } })),
	});
	if (faultOf({ data, error })) {
		return (
			<>
				<h1>Unknown label</h1>
				<ProblemAlert error={error} />
				<p>
					<Link to="/">Today</Link>
				</p>
			</>
		);
	}
	if (!data) return <Waiting shape="list" />;
	const unit = data.unit_id ? `?unit=${data.unit_id}` : "";
	const to = data.started ? `rounds${unit}` : "prepare";
	return <Navigate to={`/trials/${data.trial_id}/${to}`} replace />;
}
