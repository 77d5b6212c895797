import { Button } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import {
	ApiProblem,
	api,
	body,
	type MixSum,
	type Prepare,
	type Recipe,
	type Trial,
} from "@/api/client";
import { ofTrial } from "@/api/keys";
import { Card } from "@/ui/Card";
import { PutOnList } from "@/ui/mixing/CardActions";
import { Flags, MixCard } from "@/ui/mixing/MixCard";
import { filled, SumForm } from "@/ui/mixing/SumForm";
import { useMixingBench, useRemember, useSettled, useSum } from "@/ui/mixing/useMix";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import { SilkSquare } from "@/ui/SilkSquare";
import styles from "./Prepare.module.css";

type Suggested = Prepare["suggested"][number];

/** The recipes of a trial; what the plan calls for is ready with its figures filled in. */
export function RecipesCard({ trial, found }: { trial: Trial; found: Prepare }) {
	const bench = useMixingBench();
	const [open, setOpen] = useState<Suggested | null>(null);
	const sum = bench?.sums.find((s) => s.key === open?.key);
	const waiting = found.suggested.filter(
		(s) => !found.recipes.some((r) => r.treatment === s.treatment && r.key === s.key),
	);
	return (
		<Card
			title="Recipes"
			aside={found.recipes.length > 0 ? `${found.recipes.length} on the list` : undefined}
		>
			{found.recipes.length === 0 && waiting.length === 0 && (
				<p>
					Nothing to mix by the plan. Put a card here from the{" "}
					<Link to="/mixing">mixing bench</Link>.
				</p>
			)}
			<Listed trial={trial} recipes={found.recipes} />
			{waiting.length > 0 && (
				<>
					<h3>Needed for this plan</h3>
					<ul className={styles.calls}>
						{waiting.map((s) => (
							<li key={s.says}>
								{s.treatment !== null && (
									<SilkSquare id={trial.plan.treatments[s.treatment]?.silk ?? "plain"} size={22} />
								)}
								<span dir="auto">{s.says}</span>
								<Button
									size="sm"
									variant="default"
									aria-expanded={open === s}
									onClick={() => setOpen(open === s ? null : s)}
								>
									{open === s ? "Close" : "Calculate"}
								</Button>
							</li>
						))}
					</ul>
				</>
			)}
			{open && sum && (
				<Worked
					key={open.says}
					trial={trial}
					sum={sum}
					suggested={open}
					onDone={() => setOpen(null)}
				/>
			)}
			<p className={styles.links}>
				<Link to="/mixing">Open Mixing</Link>
			</p>
		</Card>
	);
}

interface WorkedProps {
	trial: Trial;
	sum: MixSum;
	suggested: Suggested;
	onDone: () => void;
}

function Worked({ trial, sum, suggested, onDone }: WorkedProps) {
	const [values, setValues] = useState<Record<string, string>>(suggested.fields);
	const asked = useSettled(filled(values), 250);
	const { data: card, error, isFetching } = useSum(sum.key, asked);
	const remember = useRemember();
	const problem = error instanceof ApiProblem ? error : null;
	return (
		<section className={styles.worked} aria-label={suggested.says}>
			<SumForm sum={sum} values={values} onChange={setValues} problem={problem} />
			{error && <ProblemAlert error={error} />}
			{card && !error && (
				<MixCard
					card={card}
					isBusy={isFetching}
					under="h3"
					onAnswer={(k, v) => remember.mutate({ [k]: v })}
				>
					<div className={styles.putOn}>
						<PutOnList
							card={card}
							trialId={trial.id}
							treatment={suggested.treatment}
							onDone={onDone}
						/>
					</div>
				</MixCard>
			)}
		</section>
	);
}

function Listed({ trial, recipes }: { trial: Trial; recipes: Recipe[] }) {
	const queries = useQueryClient();
	const [gone, setGone] = useState<Recipe | null>(null);
	const path = (id: string) => ({ path: { trial_id: trial.id, recipe_id: id } });
	const settle = () => queries.invalidateQueries({ queryKey: ofTrial(trial.id, "prepare") });
	const takeOff = useMutation({
		mutationFn: (r: Recipe) =>
			body(api.DELETE("/api/trials/{trial_id}/recipes/{recipe_id}", { params: path(r.id) })),
		onSuccess: (_, r) => {
			setGone(r);
			void settle();
		},
	});
	const back = useMutation({
		mutationFn: (id: string) =>
			body(api.POST("/api/trials/{trial_id}/recipes/{recipe_id}/back", { params: path(id) })),
		onSuccess: () => {
			setGone(null);
			void settle();
		},
	});
	return (
		<>
			<ul className={styles.recipes}>
				{recipes.map((r) => (
					<li key={r.id}>
						<RecipeBody trial={trial} recipe={r} />
						<Button
							size="xs"
							variant="subtle"
							color="clay"
							className={`no-print ${styles.takeOff}`}
							aria-label={`Remove from the list: ${r.title}`}
							onClick={() => takeOff.mutate(r)}
						>
							Remove
						</Button>
					</li>
				))}
			</ul>
			{gone && (
				<p role="status">
					{gone.title} is off the list.{" "}
					<Button size="xs" variant="default" onClick={() => back.mutate(gone.id)}>
						Restore
					</Button>
				</p>
			)}
			<ProblemAlert error={takeOff.error ?? back.error} />
		</>
	);
}

/** One recipe as it was worked out, with the answers it stands on. */
export function RecipeBody({ trial, recipe: r }: { trial: Trial; recipe: Recipe }) {
	const arm = r.treatment === null ? undefined : trial.plan.treatments[r.treatment];
	const first = r.amounts[0];
	return (
		<div className={styles.recipe}>
			<div className={styles.recipeHead}>
				{arm && <SilkSquare id={arm.silk} size={24} />}
				<strong dir="auto">{r.arm || "For all"}</strong>
				<span className="muted">{r.title}</span>
			</div>
			{first && (
				<p className={styles.recipeMain}>
					<span>{first.what}</span> <strong>{first.shown}</strong>
				</p>
			)}
			<p>
				{r.amounts
					.slice(1)
					.map((a) => `${a.what}: ${a.shown}`)
					.join(" · ")}
			</p>
			<p className="muted">{r.says.join(" ")}</p>
			{r.answers.length > 0 && <p className={styles.answers}>{r.answers.join(" · ")}</p>}
			<Flags flags={r.flags} />
			{r.override && (
				<p>
					Overruled by {r.who}: {r.override}
				</p>
			)}
		</div>
	);
}
