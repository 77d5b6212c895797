import { Button } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, body } from "@/api/client";
import { listsChanged } from "@/api/keys";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import { SamplePicture } from "./SamplePicture";
import styles from "./Today.module.css";

const WAYS = [
	{
		to: "/trials/new",
		name: "Plan a new trial",
		says: "Three questions: what you want to find out, against what, and what you have.",
	},
	{
		to: "/trials/new/begun",
		name: "It has already begun",
		says: "Say what stands where, and enter the looks so far.",
	},
	{
		to: "/trials/read-in",
		name: "It is over: I have results",
		says: "Counts, a table with dates, or only averages.",
	},
];

/** A server without a trial: three ways in, what comes out, and invented data to try it with. */
export function EmptyShed() {
	const queries = useQueryClient();
	const demo = useMutation({
		mutationFn: () =>
			body(
				api.POST("/api/demo", {
					body: { time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC" },
				}),
			),
		onSuccess: () => listsChanged(queries),
	});
	return (
		<div className={styles.empty}>
			<h1>No trials yet</h1>
			<p>
				Does the hormone, the soak, the nick really beat doing nothing? A trial answers that when
				some plants stay untreated, positions are random, and all are looked at on the same days.
			</p>
			<div className={styles.ways}>
				<ul className={styles.begin}>
					{WAYS.map((way, i) => (
						<li key={way.to}>
							<Button
								component={Link}
								to={way.to}
								variant={i === 0 ? "filled" : "default"}
								fullWidth
							>
								{way.name}
							</Button>
							<p className="muted">{way.says}</p>
						</li>
					))}
					<li>
						<Button
							variant="default"
							fullWidth
							loading={demo.isPending}
							onClick={() => demo.mutate()}
						>
							Try it with invented data
						</Button>
						<p className="muted">
							Nine trials of a made-up garden trust and the returns of 19 gardens; all stay marked
							as invented.
						</p>
						<ProblemAlert error={demo.error} />
					</li>
				</ul>
				<SamplePicture />
			</div>
		</div>
	);
}
