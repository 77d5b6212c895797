import { Button, TextInput } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Schemas } from "@/api/client";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import styles from "./Tables.module.css";

type Row = Record<"treatment" | "struck" | "stuck" | "percent" | "mean" | "mean_of", string>;
const EMPTY: Row = { treatment: "", struck: "", stuck: "", percent: "", mean: "", mean_of: "" };
const COLUMNS: [keyof Row, string][] = [
	["treatment", "treatment"],
	["struck", "struck"],
	["stuck", "out of"],
	["percent", "stated %"],
	["mean", "stated mean"],
	["mean_of", "of plants"],
];

/** Only a summary, no plants: its arithmetic is reckoned again, and what it cannot say is said. */
export function SummaryCheck() {
	const [rows, setRows] = useState<Row[]>([
		{ ...EMPTY, treatment: "Untreated" },
		{ ...EMPTY, treatment: "Treated" },
		{ ...EMPTY, treatment: "total" },
	]);
	const check = useMutation({
		mutationFn: async () => body(api.POST("/api/tables/audit", { body: { rows: told(rows) } })),
	});
	const set = (i: number, name: keyof Row, value: string) =>
		setRows(rows.map((r, k) => (k === i ? { ...r, [name]: value } : r)));
	const found = check.data;
	return (
		<Card
			title="Check a summary"
			aside="control first; leave unknown cells empty; one line may be called total"
		>
			{/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it */}
			<section className={styles.summary} tabIndex={0} aria-label="Summary to check">
				<table>
					<thead>
						<tr>
							{COLUMNS.map(([name, label]) => (
								<th key={name} scope="col">
									{label}
								</th>
							))}
						</tr>
					</thead>
					<tbody>
						{rows.map((r, i) => (
							<tr key={`line ${i + 1}`}>
								{COLUMNS.map(([name, label]) => (
									<td key={name}>
										<TextInput
											size="sm"
											aria-label={`Line ${i + 1}, ${label}`}
											inputMode={name === "treatment" ? "text" : "decimal"}
											value={r[name]}
											onChange={(e) => set(i, name, e.currentTarget.value)}
										/>
									</td>
								))}
							</tr>
						))}
					</tbody>
				</table>
			</section>
			<div className={styles.keep}>
				<Button loading={check.isPending} onClick={() => check.mutate()}>
					Check
				</Button>
				<Button variant="default" onClick={() => setRows([...rows, EMPTY])}>
					Add line
				</Button>
			</div>
			<ProblemAlert error={check.error} />
			{found && <Found found={found} />}
		</Card>
	);
}

function Found({ found }: { found: Schemas["AuditOut"] }) {
	return (
		<div role="status">
			{found.findings.length === 0 ? (
				<p>No contradictions: the figures agree</p>
			) : (
				<ul className={styles.arms}>
					{found.findings.map((f) => (
						<li key={`${f.code}${f.row}${f.says}`}>
							<strong>Line {f.row}.</strong> {f.says}
						</li>
					))}
				</ul>
			)}
			{found.bounds.map((b) => (
				<p key={b}>{b}</p>
			))}
			<p className="muted">{found.ceiling}</p>
		</div>
	);
}

/** Lines that name a treatment, numbers as numbers. Throws where a count is not a whole number. */
function told(rows: readonly Row[]): Schemas["ToldIn"][] {
	const named = rows.map((r, i) => ({ r, line: i + 1 })).filter(({ r }) => r.treatment.trim());
	return named.map(({ r, line }) => {
		const whole = (name: "struck" | "stuck" | "mean_of"): number | null => {
			const said = r[name].trim();
			if (said === "") return null;
			if (!/^\d+$/.test(said)) {
				const column = COLUMNS.find(([c]) => c === name)?.[1] ?? name;
				throw new Error(`Line ${line}, ${column}: “${said}” is not a whole number.`);
			}
			return Number(said);
		};
		return {
			treatment: r.treatment.trim(),
			struck: whole("struck"),
			stuck: whole("stuck"),
			percent: r.percent.trim(),
			mean: r.mean.trim(),
			mean_of: whole("mean_of"),
		};
	});
}
