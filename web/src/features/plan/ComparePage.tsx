import { NativeSelect } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, body } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { useParams } from "@/ui/routing";
import { TrialHeader } from "@/ui/TrialHeader";
import { Unopened } from "@/ui/Unopened";
import { useTrial, useTrials } from "@/ui/useTrial";
import styles from "./Plan.module.css";

/** Two plans side by side, difference by difference. */
export function ComparePage() {
	const { trialId = "" } = useParams();
	const told = useTrial(trialId);
	const trial = told.data;
	const { data: trials } = useTrials();
	const others = (trials ?? []).filter((t) => t.id !== trialId);
	const [chosen, setChosen] = useState("");
	const compared = useQuery({
		queryKey: ofTrial(trialId, "compare", chosen),
		enabled: chosen !== "",
		queryFn: () =>
			body(
				api.GET("/api/trials/{trial_id}/compare/{other_id}", {
					params: { path: { trial_id: trialId, other_id: chosen } },
				}),
			),
	});
	if (!trial) return <Unopened of={[told]} shape="list" />;
	const found = compared.data;
	return (
		<>
			<TrialHeader trial={trial} />
			<Card title="Compare two plans">
				{others.length === 0 ? (
					<p>There is no other trial yet. Copy this plan and change one thing.</p>
				) : (
					<NativeSelect
						label="Other plan"
						value={chosen}
						data={[
							{ value: "", label: "choose" },
							...others.map((t) => ({ value: t.id, label: t.question })),
						]}
						onChange={(e) => setChosen(e.currentTarget.value)}
					/>
				)}
				<ProblemAlert error={compared.error} />
				{found && (
					<>
						<p className={styles.apart}>
							{found.differences.length === 0
								? "The two plans are the same"
								: `They differ in ${count(found.differences.length, "thing")}.${found.differences.length === 1 ? " A different result can be due to it." : ""}`}
						</p>
						{found.differences.length > 0 && (
							<div className={styles.scroll}>
								<table className={styles.balance}>
									<thead>
										<tr>
											<th scope="col">What differs</th>
											<th scope="col" dir="auto">
												{found.one}
											</th>
											<th scope="col" dir="auto">
												{found.other}
											</th>
										</tr>
									</thead>
									<tbody>
										{found.differences.map((d) => (
											<tr key={d.field + d.label}>
												<th scope="row" dir="auto">
													{d.label}
												</th>
												<td dir="auto">{d.one}</td>
												<td dir="auto">{d.other}</td>
											</tr>
										))}
									</tbody>
								</table>
							</div>
						)}
					</>
				)}
			</Card>
		</>
	);
}
