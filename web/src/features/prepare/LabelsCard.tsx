import { Button, NativeSelect, SegmentedControl } from "@mantine/core";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Trial } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { NumberField } from "@/ui/NumberField";
import { ProblemAlert } from "@/ui/ProblemAlert";
import styles from "./Prepare.module.css";

/** Labels for units and trays: sheets, a plain list, or the simulated label printer. */
export function LabelsCard({ trial }: { trial: Trial }) {
	const [trays, setTrays] = useState(false);
	const [sheet, setSheet] = useState("a4_65");
	const [skip, setSkip] = useState(0);
	const params = { path: { trial_id: trial.id } };
	const { data, error } = useQuery({
		queryKey: ofTrial(trial.id, "labels", trays),
		queryFn: () =>
			body(api.GET("/api/trials/{trial_id}/labels", { params: { ...params, query: { trays } } })),
	});
	const print = useMutation({
		mutationFn: () =>
			body(api.POST("/api/trials/{trial_id}/labels/print", { params, body: { trays, copies: 1 } })),
	});
	const roll = useMutation({
		mutationFn: () => body(api.POST("/api/printer/roll")),
		onSuccess: () => print.reset(),
	});
	const of = `trays=${trays}`;
	const places = data?.sheets.find((s) => s.key === sheet)?.places ?? 1;
	return (
		<Card
			title="Labels"
			aside={
				data &&
				`${count(data.labels.length, "label")}${trial.plan.blind ? ", blind codes" : ", with patterns"}`
			}
		>
			<div className={styles.sources}>
				<SegmentedControl
					aria-label="Print labels for"
					size="sm"
					value={trays ? "trays" : "units"}
					onChange={(v) => setTrays(v === "trays")}
					data={[
						{ value: "units", label: "units" },
						{ value: "trays", label: "trays" },
					]}
				/>
				<div className={styles.fields}>
					<NativeSelect
						size="sm"
						label="Sheet"
						value={sheet}
						onChange={(e) => setSheet(e.currentTarget.value)}
						data={(data?.sheets ?? []).map((s) => ({ value: s.key, label: s.name }))}
					/>
					<NumberField
						size="sm"
						label="Labels already used"
						min={0}
						max={places - 1}
						value={skip}
						isWhole
						onChange={(v) => v !== null && setSkip(v)}
					/>
				</div>
				<p className={styles.links}>
					<a
						href={`/api/trials/${trial.id}/labels.pdf?sheet=${sheet}&${of}&skip=${Math.min(skip, places - 1)}`}
						target="_blank"
						rel="noreferrer"
					>
						Print sheets (PDF)
					</a>
					<a href={`/api/trials/${trial.id}/labels.csv?${of}`}>Export list (CSV)</a>
				</p>
				<Button
					size="sm"
					variant="default"
					loading={print.isPending}
					onClick={() => print.mutate()}
				>
					Send to label printer (simulated)
				</Button>
				<ProblemAlert error={error ?? print.error}>
					{print.error && (
						<Button size="xs" variant="default" onClick={() => roll.mutate()}>
							Load a new roll
						</Button>
					)}
				</ProblemAlert>
				{print.data && (
					<>
						<p role="status">{print.data.says}</p>
						<ul className={styles.printed} aria-label="Printed labels">
							{print.data.labels.slice(0, 24).map((svg) => (
								<li key={svg}>
									<img alt="" src={`data:image/svg+xml;utf8,${encodeURIComponent(svg)}`} />
								</li>
							))}
						</ul>
						{print.data.labels.length > 24 && (
							<p className="muted">and {print.data.labels.length - 24} more like these</p>
						)}
					</>
				)}
			</div>
			<p className="muted">
				The QR code opens this plant on a phone on the same network. Blind labels show no treatment.
			</p>
		</Card>
	);
}
