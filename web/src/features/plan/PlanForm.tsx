import { Button, NativeSelect, Switch, Textarea, TextInput } from "@mantine/core";
import { useState } from "react";
import type { Plan, Trial } from "@/api/client";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { useLadder } from "@/ui/reference";
import { StewardsNotes } from "@/ui/StewardsNotes";
import { TrialHeader } from "@/ui/TrialHeader";
import { BenchMap } from "./BenchMap";
import { NumberField } from "./NumberField";
import styles from "./Plan.module.css";
import { PowerCard } from "./PowerCard";
import { newSeed, withKind } from "./plan";
import { StartBox } from "./StartBox";
import { TreatmentList } from "./TreatmentList";
import { faultFor, useConsequences, useDraft, usePlanActions } from "./usePlan";

/** One calm page, filled from top to bottom, that shows what follows as one types. */
export function PlanForm({ trial }: { trial: Trial | undefined }) {
	const { draft, isDirty, change, settled } = useDraft(trial);
	const { data: found, error: checkError } = useConsequences(draft);
	const { save, start, discard } = usePlanActions(trial?.id, settled);
	const ladder = useLadder(draft.plan.kind);
	const [showAll, setShowAll] = useState(false);
	const { plan } = draft;
	const set = (part: Partial<Plan>) => change({ ...draft, plan: { ...plan, ...part } });
	const fault = (field: string) => {
		const isEmpty = field === "question" || field === "material" || field.endsWith("/name");
		const said = faultFor(field, found?.faults, save.error ?? start.error);
		return isEmpty && !showAll && said?.includes("is empty") ? undefined : said;
	};
	const number = { plan, set, fault };
	return (
		<>
			{trial ? (
				<TrialHeader trial={{ ...trial, plan: { ...trial.plan, question: plan.question } }} />
			) : (
				<h1 className={styles.newTitle}>Plan a trial</h1>
			)}
			<div className={styles.page}>
				<div className={styles.column}>
					<Card title="Question">
						<TextInput
							label="What do you want to know?"
							placeholder="Rosemary: does a talc earn its place?"
							value={plan.question}
							error={fault("question")}
							onChange={(e) => set({ question: e.currentTarget.value })}
						/>
						<Textarea
							label="Plant material"
							description="Kind of cutting or seed, wood stage, mother plant or lot: one lot for all treatments."
							autosize
							minRows={1}
							value={plan.material}
							error={fault("material")}
							onChange={(e) => set({ material: e.currentTarget.value })}
						/>
						<div className={styles.pair}>
							<NativeSelect
								label="Propagated from"
								value={plan.kind}
								data={[
									{ value: "cutting", label: "Cuttings" },
									{ value: "seed", label: "Seed" },
								]}
								onChange={(e) =>
									change({ ...draft, plan: withKind(plan, e.currentTarget.value as Plan["kind"]) })
								}
							/>
							<NativeSelect
								label="It counts as struck when"
								value={String(plan.endpoint)}
								data={(ladder?.stages ?? [])
									.filter((s) => ladder?.endpoints.includes(s.code ?? -1))
									.map((s) => ({ value: String(s.code), label: s.name }))}
								error={fault("endpoint")}
								onChange={(e) => set({ endpoint: Number(e.currentTarget.value) })}
							/>
						</div>
						<div className={styles.pair}>
							<NumberField {...number} field="threshold_mm" label="Root that counts, mm" decimals />
							<NumberField
								{...number}
								field="gap_points"
								label="Gap worth having, points"
								decimals
							/>
						</div>
						<div className={styles.pair}>
							<NumberField {...number} field="length_days" label="Last day" />
							<NumberField {...number} field="look_every_days" label="Look every … days" />
						</div>
					</Card>
					<TreatmentList
						plan={plan}
						onChange={(next) => change({ ...draft, plan: next })}
						cautions={found?.cautions ?? []}
						fault={fault}
					/>
					<Card title="How many, and where">
						<div className={styles.pair}>
							<NumberField {...number} field="units" label="Containers of each treatment" />
							<NumberField {...number} field="per_container" label="Plants in each container" />
						</div>
						{plan.per_container !== 1 && Number.isFinite(plan.per_container) && (
							<>
								<p className={styles.hint}>
									{plan.units} containers × {plan.per_container} ={" "}
									{(plan.units ?? 0) * (plan.per_container ?? 1)} plants, but the container is what
									the lot places: {plan.units} units of each treatment.
								</p>
								<Switch
									label="Count every plant as a unit of its own all the same"
									checked={plan.count_singly ?? false}
									onChange={(e) => set({ count_singly: e.currentTarget.checked })}
								/>
							</>
						)}
						<div className={styles.pair}>
							<NumberField {...number} field="blocks" label="Blocks (1 for none)" />
							<NumberField {...number} field="columns" label="Columns of the tray" />
						</div>
						<NativeSelect
							label="Day 0 is the day of"
							value={plan.day0}
							data={["sticking", "sowing", "first wetting"]}
							onChange={(e) => set({ day0: e.currentTarget.value as Plan["day0"] })}
						/>
						<NativeSelect
							label="The door is at the"
							value={plan.door}
							data={["left", "right", "top", "bottom"]}
							onChange={(e) => set({ door: e.currentTarget.value })}
						/>
						<Switch
							label="Score blind: treatments stay hidden from the start until you unseal them"
							checked={plan.blind ?? false}
							onChange={(e) => set({ blind: e.currentTarget.checked })}
						/>
					</Card>
				</div>
				<div className={styles.column}>
					<ProblemAlert error={checkError} />
					<Card
						title="Bench"
						aside={
							<>
								drawn by lot, seed {draft.seed} ·{" "}
								<button
									type="button"
									className={styles.link}
									onClick={() => change({ ...draft, seed: newSeed() })}
								>
									draw again
								</button>
							</>
						}
					>
						<BenchMap
							cells={found?.bench ?? []}
							treatments={plan.treatments}
							door={plan.door ?? "left"}
						/>
					</Card>
					<PowerCard
						power={found?.power ?? null}
						number={
							<NumberField
								{...number}
								field="expected_percent"
								label="The control usually strikes, %"
								decimals
							/>
						}
					/>
					<div className={styles.pair}>
						<Card title="To gather">
							<dl className={styles.gather}>
								{(found?.gather ?? []).map(({ thing, amount }) => (
									<div key={thing}>
										<dt>{thing}</dt>
										<dd>{amount}</dd>
									</div>
								))}
							</dl>
						</Card>
						<StewardsNotes notes={found?.notes ?? []} none="No objections to this plan." />
					</div>
					<ProblemAlert error={save.error ?? start.error ?? discard.error} />
					<div className={styles.actions}>
						<Button
							variant="default"
							loading={save.isPending}
							onClick={() => {
								setShowAll(true);
								save.mutate(draft);
							}}
						>
							{trial ? (isDirty ? "Save changes" : "Saved") : "Save draft"}
						</Button>
						<StartBox
							isSowing={plan.kind === "seed"}
							isBusy={start.isPending}
							onStart={(at) => {
								setShowAll(true);
								start.mutate({ draft, at });
							}}
						/>
						{trial && (
							<Button variant="subtle" color="clay" onClick={() => discard.mutate()}>
								Throw this draft away
							</Button>
						)}
					</div>
				</div>
			</div>
		</>
	);
}
