import { Button } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, body } from "@/api/client";
import { key, listsChanged } from "@/api/keys";
import { count } from "@/core/text";
import { FinishBody } from "@/ui/finish/FinishBody";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { useNavigate, useParams } from "@/ui/routing";
import { faultOf } from "@/ui/Unopened";
import { Waiting } from "@/ui/Waiting";
import { RangesCard } from "./RangesCard";
import styles from "./Tables.module.css";
import { useTableWork } from "./useTableWork";
import { Working } from "./Working";

/** The judgement of a table that was read in. */
export function TablePage() {
	const { tableId = "" } = useParams();
	const queries = useQueryClient();
	const navigate = useNavigate();
	const params = { path: { table_id: tableId } };
	const kept = useQuery({
		queryKey: key("table", tableId),
		queryFn: () => body(api.GET("/api/tables/{table_id}", { params })),
	});
	const work = useTableWork(kept.data);
	const data = work.table;
	const fault = faultOf(kept) ?? work.error;
	const drop = useMutation({
		mutationFn: () => body(api.DELETE("/api/tables/{table_id}", { params })),
		onSuccess: () => {
			void listsChanged(queries);
			navigate("/trials");
		},
	});
	if (fault) return <ProblemAlert error={fault} />;
	if (work.rows !== undefined)
		return (
			<Working
				rows={work.rows}
				onStop={() => {
					void work.stop();
					navigate("/trials");
				}}
			/>
		);
	if (!data) return <Waiting shape="lanes" label="Calculating the result" />;
	return (
		<>
			<header className={styles.header}>
				<div>
					<h1 dir="auto">{data.name}</h1>
					<p className="muted">
						Read in from a table · {count(data.rows, "row")} · judged by {data.unit}
						{data.invented && " · invented demo data"}
					</p>
					{data.turnout_says && <p>{data.turnout_says}</p>}
				</div>
				<Button variant="subtle" color="clay" onClick={() => drop.mutate()}>
					Delete table
				</Button>
			</header>
			<ProblemAlert error={data.problem ? new Error(data.problem) : null} />
			<RangesCard table={data} />
			{data.finish && <FinishBody finish={data.finish} kind={data.kind ?? "cutting"} />}
		</>
	);
}
