import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, body } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { ChooseFile } from "@/ui/ChooseFile";
import { SheetProblem } from "@/ui/DatesAsked";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link, useSearchParams } from "@/ui/routing";
import { WhyNot } from "@/ui/WhyNot";
import { ColumnFields } from "./ColumnFields";
import styles from "./Gardens.module.css";
import { joined, type Returns, TEMPLATE } from "./gardens";
import { type Form, useGardens } from "./useGardens";

/** What the gardens of an invitation sent over the server, as their form. */
async function returnsOf(trialId: string): Promise<File> {
	const params = { path: { trial_id: trialId } };
	const form = await body(
		api.GET("/api/gardens/invites/{trial_id}/returns.csv", { params, parseAs: "blob" }),
	);
	return new File([form as Blob], "their results.csv", { type: "text/csv" });
}

/** The form that many gardens filled in: its columns are matched, and every row's fate is shown. */
export function GardensPage() {
	const { form, ask, choose, read, keep } = useGardens();
	const [refused, setRefused] = useState("");
	/** One form, or many files of one garden each, put one below the other. */
	const open = async (files: File[]) => {
		const found = await joined(files);
		setRefused(typeof found === "string" ? found : "");
		if (typeof found !== "string") await choose(found);
	};
	const [asked] = useSearchParams();
	const invite = asked.get("invite");
	const joinedOver = useQuery({
		queryKey: ofTrial(invite ?? undefined, "returns"),
		queryFn: () => returnsOf(invite ?? ""),
		enabled: invite !== null,
		staleTime: Number.POSITIVE_INFINITY,
		gcTime: 0, // whoever comes back reads what came since
	});
	const returns = joinedOver.data;
	const opened = useRef<File>(null);
	useEffect(() => {
		if (!returns || opened.current === returns) return;
		opened.current = returns;
		void choose(returns);
	}, [returns, choose]);
	return (
		<div className={styles.page}>
			<div className="page-head">
				<h1>Returns of many gardens</h1>
				<Button component={Link} to="/trials/read-in" variant="default">
					Import other results
				</Button>
			</div>
			<Card title="The form">
				<p>
					Each garden has one of each treatment. One row per garden, or one per garden and
					treatment; as CSV or XLSX from any form. No names or addresses are needed: a number per
					garden will do.
				</p>
				<div className={styles.ways}>
					<ChooseFile multiple accept=".csv,.tsv,.txt,.xlsx" onChoose={(files) => void open(files)}>
						Choose file, or many
					</ChooseFile>
					<Button
						component="a"
						variant="default"
						download="gardens.csv"
						href={`data:text/csv;charset=utf-8,${encodeURIComponent(TEMPLATE)}`}
					>
						Empty form (CSV)
					</Button>
					<Button component="a" variant="default" href="/api/gardens/template.xlsx" download>
						Empty form (XLSX)
					</Button>
					{form && <span dir="auto">{form.file.name}</span>}
				</div>
				<WhyNot>{refused}</WhyNot>
				<ProblemAlert error={joinedOver.error} />
				<SheetProblem error={read.error} answer={(order) => form && ask({ ...form, order })} />
			</Card>
			{form && read.data && (
				<>
					<ColumnFields form={form} heads={read.data.heads} ask={ask} />
					{read.data.asks ? (
						<p className={styles.asks} role="status">
							{read.data.asks}
						</p>
					) : (
						<Fates found={read.data} form={form} keep={keep} />
					)}
				</>
			)}
		</div>
	);
}

type Gardens = ReturnType<typeof useGardens>;

/** What became of each row, those first that were not taken as they stand; and the way to the result. */
function Fates({ found, form, keep }: { found: Returns; form: Form; keep: Gardens["keep"] }) {
	const [name, setName] = useState(form.file.name.replace(/\.[^.]+$/, ""));
	const [control, setControl] = useState("");
	const odd = found.rows.filter((r) => r.fate !== "taken");
	const taken = found.rows.length - odd.length;
	const why =
		taken === 0
			? "No row can be taken yet."
			: !found.treatments.includes(control)
				? "Choose the control."
				: "";
	return (
		<Card title="What became of each row" aside={`${count(taken, "row")} taken as they stand`}>
			<p>{found.says}</p>
			{odd.length > 0 && (
				// biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
				<section className={styles.scroll} tabIndex={0} aria-label="Rows not taken as they stand">
					<table className={styles.fates}>
						<thead>
							<tr>
								<th scope="col">Row</th>
								<th scope="col">Garden</th>
								<th scope="col">What became of it</th>
								<th scope="col">Why</th>
							</tr>
						</thead>
						<tbody>
							{odd.map((r) => (
								<tr key={r.row} data-refused={r.fate === "refused" || undefined}>
									<td>{r.row}</td>
									<td dir="auto">{r.garden}</td>
									<td>{r.fate}</td>
									<td>{r.why}</td>
								</tr>
							))}
						</tbody>
					</table>
				</section>
			)}
			<div className={styles.ways}>
				<TextInput
					label="Name"
					description="with the plant in it, so that it stands on the plant’s page"
					value={name}
					maxLength={120}
					onChange={(e) => setName(e.currentTarget.value)}
				/>
				<NativeSelect
					label="Which is the control?"
					value={control}
					data={[{ value: "", label: "choose" }, ...found.treatments]}
					onChange={(e) => setControl(e.currentTarget.value)}
				/>
				<Button
					disabled={why !== "" || !name.trim()}
					loading={keep.isPending}
					onClick={() => keep.mutate({ name, control })}
				>
					Save and see results
				</Button>
				<WhyNot>{why}</WhyNot>
			</div>
			<ProblemAlert error={keep.error} />
		</Card>
	);
}
