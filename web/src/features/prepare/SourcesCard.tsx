import { NativeSelect } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { api, body, type Prepare, type Trial } from "@/api/client";
import { key } from "@/api/keys";
import { Card } from "@/ui/Card";
import { Flags } from "@/ui/mixing/MixCard";
import { Link } from "@/ui/routing";
import styles from "./Prepare.module.css";
import { asSent, type PrepareLog } from "./usePrepare";

export interface SourcesCardProps {
	trial: Trial;
	found: Prepare;
	log: PrepareLog;
}

/** What the trial draws from on the shelf, and what must be said of it now. */
export function SourcesCard({ trial, found, log }: SourcesCardProps) {
	const { data: register } = useQuery({
		queryKey: key("register"),
		queryFn: () => body(api.GET("/api/materials")),
	});
	const isDraft = trial.status === "draft";
	const sent = asSent(found);
	const plants = register?.plants ?? [];
	const agents = register?.agents ?? [];
	const needing = trial.plan.treatments
		.map((t, i) => ({ t, i }))
		.filter(({ t, i }) => t.agent !== "nothing" || found.arms[i]?.agent_id);
	const options = (lots: { id: string; name: string }[], id: string) => [
		{ value: "", label: "not from the stock list" },
		...lots.map((l) => ({ value: l.id, label: l.name })),
		...(id && !lots.some((l) => l.id === id)
			? [{ value: id, label: "no longer in the stock list" }]
			: []),
	];
	if (!isDraft)
		return <Drawn trial={trial} found={found} named={(id) => nameOf([...plants, ...agents], id)} />;
	const setAgent = (arm: number, agent_id: string) =>
		log.save.mutate({
			...sent,
			arms: sent.arms.map((a, i) => (i === arm ? { ...a, agent_id } : a)),
		});
	return (
		<Card title="What it draws on" aside={<Link to="/mixing/shelf">Stock list</Link>}>
			<div className={styles.sources}>
				<NativeSelect
					size="sm"
					label="Plants"
					value={found.plant_id}
					data={options(plants, found.plant_id)}
					onChange={(e) => log.save.mutate({ ...sent, plant_id: e.currentTarget.value })}
				/>
				<Flags flags={found.plant_flags} />
				{needing.map(({ t, i }) => (
					<div key={t.name} className={styles.sources}>
						<NativeSelect
							size="sm"
							label={`Agent of ${t.name}`}
							value={found.arms[i]?.agent_id ?? ""}
							data={options(agents, found.arms[i]?.agent_id ?? "")}
							onChange={(e) => setAgent(i, e.currentTarget.value)}
						/>
						<Flags flags={found.arms[i]?.flags ?? []} />
					</div>
				))}
			</div>
		</Card>
	);
}

function nameOf(lots: { id: string; name: string }[], id: string): string {
	if (!id) return "not from the stock list";
	return lots.find((l) => l.id === id)?.name ?? "no longer in the stock list";
}

interface DrawnProps {
	trial: Trial;
	found: Prepare;
	named: (id: string) => string;
}

/** What a started trial was made from; it stays as it was. */
function Drawn({ trial, found, named }: DrawnProps) {
	const arms = trial.plan.treatments.map((t, i) => ({ t, arm: found.arms[i] }));
	return (
		<Card title="What it drew on" aside={<Link to="/mixing/shelf">Stock list</Link>}>
			<dl className={styles.drawn}>
				<dt>Plants</dt>
				<dd dir="auto">{named(found.plant_id)}</dd>
				{arms
					.filter(({ t, arm }) => t.agent !== "nothing" || arm?.agent_id)
					.map(({ t, arm }) => (
						<div key={t.name}>
							<dt dir="auto">{t.name}</dt>
							<dd>{named(arm?.agent_id ?? "")}</dd>
						</div>
					))}
			</dl>
		</Card>
	);
}
