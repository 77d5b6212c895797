import { Checkbox, NativeSelect, Switch, Textarea, TextInput, UnstyledButton } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Consequences, type Plan } from "@/api/client";
import { count } from "@/core/text";
import { looksFault, looksSaid, looksTyped } from "@/core/words";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { useMeasure, useReference, useStageScale } from "@/ui/reference";
import { Link } from "@/ui/routing";
import { AlsoCounted } from "./AlsoCounted";
import { FromShelf } from "./FromShelf";
import { GroupsDeclared } from "./GroupsDeclared";
import { Offers } from "./Offers";
import { OnTheWay } from "./OnTheWay";
import styles from "./Plan.module.css";
import { PlanNumber } from "./PlanNumber";
import { withStage, withTemplate } from "./plan";
import { type ChangePlan, useTemplates } from "./usePlan";
import { Watched } from "./Watched";

/** What a trial can be judged on; of a shoot, a bloom or own steps there is no root score. */
export const measuresOf = ({ outcome = "usual" }: Pick<Plan, "outcome">) =>
	outcome === "usual" || outcome === "bulb"
		? [
				{ value: "strike", label: "how many root (come up)" },
				{ value: "speed", label: "how soon they root (come up)" },
				{ value: "quality", label: "root score, 0 to 5" },
			]
		: [
				{ value: "strike", label: "how many get there" },
				{ value: "speed", label: "how soon they get there" },
			];

export interface CardProps {
	plan: Plan;
	set: ChangePlan;
	replace: (plan: Plan) => void;
	fault: (field: string) => string | undefined;
	found: Consequences | undefined;
}

/** What is asked, of which plants, judged how, over how long. */
export function QuestionCard({ plan, set, replace, fault, found }: CardProps) {
	const ladder = useStageScale(plan);
	const number = { plan, set, fault };
	const isUsual = (plan.outcome ?? "usual") === "usual";
	const unit =
		plan.kind === "seed" ? "Shortest root tip that counts, mm" : "Shortest root that counts, mm";
	return (
		<Card title="Question">
			<Template plan={plan} replace={replace} />
			<TextInput
				label="What do you want to find out?"
				placeholder="Do more rosemary cuttings root with hormone powder?"
				value={plan.question}
				error={fault("question")}
				onChange={(e) => set({ question: e.currentTarget.value })}
			/>
			<Textarea
				label="Plants"
				description="Cutting type, mother plant or seed batch; the same for all treatments."
				autosize
				minRows={1}
				value={plan.material}
				error={fault("material")}
				onChange={(e) => set({ material: e.currentTarget.value })}
			/>
			<FromShelf plan={plan} set={set} />
			<div className={styles.pair}>
				<JudgedOn plan={plan} set={set} fault={fault} />
				<GapField {...number} />
			</div>
			<Offers
				plan={plan}
				found={found}
				codes={["asks_speed", "asks_quality", "more_looks", "far_apart", "not_blind"]}
				replace={replace}
			/>
			<Watched plan={plan} set={set} fault={fault} />
			<div className={styles.pair}>
				<NativeSelect
					label={isUsual && plan.kind === "cutting" ? "Counts as rooted when" : "Counts when"}
					value={String(plan.endpoint)}
					data={(ladder?.stages ?? [])
						.filter((s) => ladder?.endpoints.includes(s.code ?? -1))
						.map((s) => ({ value: String(s.code), label: s.name }))}
					error={fault("endpoint")}
					onChange={(e) => set({ endpoint: Number(e.currentTarget.value) })}
				/>
				{isUsual && <PlanNumber {...number} field="threshold_mm" label={unit} />}
				{isUsual && plan.kind === "cutting" && (
					<PlanNumber {...number} field="rooted_score" label="Root score that counts" />
				)}
			</div>
			<AlsoCounted plan={plan} set={set} fault={fault} />
			<div className={styles.pair}>
				<PlanNumber {...number} field="length_days" label="Last day" />
				<LookDays plan={plan} set={set} fault={fault} days={found?.look_days ?? []} />
			</div>
			<OnTheWay plan={plan} set={set} fault={fault} />
			{plan.measure === "strike" && (
				<Switch
					label="I expect no difference: test whether they are equal within this margin"
					checked={plan.expect_level ?? false}
					onChange={(e) => set({ expect_level: e.currentTarget.checked })}
				/>
			)}
			<details className={styles.more}>
				<summary>More: secondary results, day 0, earlier results</summary>
				<fieldset className={styles.checks}>
					<legend>Secondary results (never the headline)</legend>
					{measuresOf(plan)
						.filter((m) => m.value !== plan.measure)
						.map((m) => (
							<Checkbox
								key={m.value}
								label={m.label}
								checked={(plan.secondary ?? []).includes(m.value as "strike")}
								onChange={(e) =>
									set({
										secondary: e.currentTarget.checked
											? [...(plan.secondary ?? []), m.value as "strike"]
											: (plan.secondary ?? []).filter((s) => s !== m.value),
									})
								}
							/>
						))}
				</fieldset>
				<GroupsDeclared plan={plan} set={set} fault={fault} />
				<NativeSelect
					label="Day 0 is the day of"
					value={plan.day0}
					data={["sticking", "sowing", "first wetting"]}
					onChange={(e) => set({ day0: e.currentTarget.value as Plan["day0"] })}
				/>
				<Textarea
					label="What is already known"
					description="A study, an earlier trial, hearsay. Kept as a note; never used in a test."
					autosize
					value={plan.prior}
					error={fault("prior")}
					onChange={(e) => set({ prior: e.currentTarget.value })}
				/>
			</details>
		</Card>
	);
}

/** What the trial is judged on: how many, how soon, a root score, or a measure of the grower's choice. */
function JudgedOn({ plan, set, fault }: Pick<CardProps, "plan" | "set" | "fault">) {
	const traits = useReference()?.judged ?? [];
	const measureBy = (name: string) => {
		const t = traits.find((x) => x.name === name);
		return { graded_by: name, expected_score: t?.usual ?? 10, gap_score: t?.gap ?? 2 };
	};
	const noMeasure = plan.graded_by
		? { graded_by: "", expected_score: 2.5, gap_score: 1, usual_spread: 0 }
		: {};
	return (
		<>
			<NativeSelect
				label="Judged on"
				value={plan.graded_by ? MEASURED : plan.measure}
				data={[
					...measuresOf(plan),
					{ value: MEASURED, label: "a measure: height, leaves, stage …" },
				]}
				onChange={(e) => {
					const value = e.currentTarget.value;
					if (value !== MEASURED) set({ ...noMeasure, measure: value as Plan["measure"] });
					else {
						const secondary = (plan.secondary ?? []).filter((m) => m !== "quality");
						set({ measure: "quality", secondary, ...measureBy(traits[0]?.name ?? "height") });
					}
				}}
			/>
			{plan.graded_by && (
				<NativeSelect
					label="Which measure"
					value={plan.graded_by}
					data={traits.map((t) => ({
						value: t.name,
						label: t.unit ? `${t.label}, ${t.unit}` : t.label,
					}))}
					error={fault("graded_by")}
					onChange={(e) => set(measureBy(e.currentTarget.value))}
				/>
			)}
		</>
	);
}

const MEASURED = "measured";

/** The template of what is compared, on a wood stage or crop; the words already written stay. */
function Template({ plan, replace }: Pick<CardProps, "plan" | "replace">) {
	const templates = useTemplates();
	const [stage, setStage] = useState("");
	const [before, setBefore] = useState<Plan | null>(null);
	const chosen = templates.find((t) => t.subject === plan.subject);
	const begin = useMutation({
		mutationFn: (asked: { subject: NonNullable<Plan["subject"]>; stage: string }) =>
			body(
				api.POST("/api/plans/begin", {
					body: { ...asked, time_zone: plan.time_zone ?? "UTC" },
				}),
			),
		onSuccess: (from) => {
			setBefore(plan);
			replace(from.subject === plan.subject ? withStage(plan, from) : withTemplate(plan, from));
		},
	});
	return (
		<>
			<div className={styles.pair}>
				<NativeSelect
					label="What do you compare?"
					value={plan.subject}
					data={templates.map((t) => ({ value: t.subject, label: t.name }))}
					onChange={(e) => begin.mutate({ subject: e.currentTarget.value as "hormone", stage })}
				/>
				<NativeSelect
					label="Kind of cutting or seed"
					value={stage}
					data={[
						{ value: "", label: "Choose one for its usual dates" },
						...(chosen?.stages ?? []).map((s) => ({ value: s.id, label: s.name })),
					]}
					onChange={(e) => {
						setStage(e.currentTarget.value);
						if (plan.subject) begin.mutate({ subject: plan.subject, stage: e.currentTarget.value });
					}}
				/>
			</div>
			{chosen && (
				<p className="muted">
					{chosen.asks} {chosen.says} <Link to="/library#cuttings">Usual times and strengths</Link>
				</p>
			)}
			{before && (
				<UnstyledButton
					className={styles.link}
					onClick={() => {
						replace(before);
						setBefore(null);
					}}
				>
					Undo
				</UnstyledButton>
			)}
			<ProblemAlert error={begin.error} />
		</>
	);
}

/** Which gap would be worth having, in the unit of what is judged. */
function GapField(number: Pick<CardProps, "plan" | "set" | "fault">) {
	const measure = number.plan.measure;
	const unit = useMeasure(number.plan)?.unit || "score";
	if (measure === "speed") {
		return (
			<PlanNumber {...number} field="gap_days" label="Smallest difference that matters, days" />
		);
	}
	if (measure === "quality") {
		return (
			<PlanNumber
				{...number}
				field="gap_score"
				label={`Smallest difference that matters, ${unit}`}
			/>
		);
	}
	const label = number.plan.expect_level
		? "Largest difference that does not matter, points"
		: "Smallest difference that matters, points";
	return <PlanNumber {...number} field="gap_points" label={label} />;
}

/** Every so many days, or the very days. */
function LookDays({
	plan,
	set,
	fault,
	days,
}: Pick<CardProps, "plan" | "set" | "fault"> & { days: number[] }) {
	const said = looksSaid(plan.look_every_days, plan.look_days);
	const [text, setText] = useState(said);
	const span = { start: (plan.set_at ?? "").slice(0, 10), lastDay: plan.length_days ?? 0 };
	const typed = looksTyped(text, span);
	const isStale =
		typed !== null &&
		("days" in typed ? typed.days.join(", ") !== said : `every ${typed.every} days` !== said);
	return (
		<TextInput
			label="Look on days"
			description={
				days.length > 0
					? `${count(days.length, "look")}, the last on day ${days.at(-1)}`
					: undefined
			}
			inputWrapperOrder={["label", "input", "description", "error"]}
			value={isStale ? said : text}
			error={typed ? (fault("look_days") ?? fault("look_every_days")) : looksFault(text, span)}
			onChange={(e) => {
				setText(e.currentTarget.value);
				const next = looksTyped(e.currentTarget.value, span);
				if (next) {
					set(
						"days" in next
							? { look_days: next.days }
							: { look_every_days: next.every, look_days: [] },
					);
				}
			}}
		/>
	);
}
