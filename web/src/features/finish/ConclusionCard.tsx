import { Button, Textarea } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { Card } from "@/ui/Card";
import styles from "@/ui/finish/Beside.module.css";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { faultOf } from "@/ui/Unopened";
import { WhyNot } from "@/ui/WhyNot";

/** The grower's own conclusion; words that say more than the trial can are shown with others. */
export function ConclusionCard({ trialId }: { trialId: string }) {
	const queries = useQueryClient();
	const params = { path: { trial_id: trialId } };
	const found = useQuery({
		queryKey: ofTrial(trialId, "conclusion"),
		queryFn: () => body(api.GET("/api/trials/{trial_id}/conclusion", { params })),
	});
	const [draft, setDraft] = useState<string | null>(null);
	const keep = useMutation({
		mutationFn: (text: string) =>
			body(api.PUT("/api/trials/{trial_id}/conclusion", { params, body: { text } })),
		onSuccess: (told) => {
			queries.setQueryData(ofTrial(trialId, "conclusion"), told);
			setDraft(null);
		},
	});
	const told = found.data;
	const text = draft ?? told?.text ?? "";
	return (
		<Card
			title="Your conclusion"
			aside="saved with the trial and printed in the report"
			className={text ? undefined : "no-print"}
		>
			<Textarea
				aria-label="Your conclusion"
				placeholder="What would you tell a colleague?"
				autosize
				minRows={2}
				maxLength={2000}
				value={text}
				onChange={(e) => setDraft(e.currentTarget.value)}
			/>
			{told && told.too_much.length > 0 && draft === null && (
				<>
					<p className={styles.note}>This claims more than the trial shows:</p>
					<ul className={styles.words}>
						{told.too_much.map((o) => (
							<li key={`${o.start}${o.found}`}>
								<strong>“{o.found}”</strong>: {o.why} <em>Instead: {o.instead}.</em>
							</li>
						))}
					</ul>
				</>
			)}
			<div className={`${styles.buttons} no-print`}>
				<Button
					loading={keep.isPending}
					disabled={draft === null || draft === told?.text}
					onClick={() => keep.mutate(text)}
				>
					Save
				</Button>
				<WhyNot>
					{draft === null || draft === told?.text ? "Nothing has changed since it was kept." : ""}
				</WhyNot>
				{told?.honest && (
					<Button variant="default" onClick={() => setDraft(told.honest)}>
						Start from the result text
					</Button>
				)}
			</div>
			<ProblemAlert error={keep.error ?? faultOf(found)} />
		</Card>
	);
}
