import { NativeSelect, Switch, TextInput } from "@mantine/core";
import { Card } from "@/ui/Card";
import { Term } from "@/ui/Term";
import { LevelDrawing } from "./LevelDrawing";
import { OwnNumber } from "./OwnNumber";
import styles from "./Plan.module.css";
import { PlanNumber } from "./PlanNumber";
import { withLayout, withLevel } from "./plan";
import type { CardProps } from "./QuestionCard";

const LEVELS = [
	{ value: "propagule", label: "each cutting or seed on its own", plural: "plants" },
	{ value: "container", label: "a pot, cell, jar or dish of several", plural: "containers" },
	{ value: "tray", label: "a whole tray", plural: "trays" },
	{ value: "place", label: "a heat mat, fridge or shelf", plural: "places" },
	{ value: "site", label: "a garden or kitchen", plural: "sites" },
] as const;
const LAYOUTS = [
	{ value: "random", label: "over all positions" },
	{ value: "blocks", label: "within blocks" },
	{ value: "pairs", label: "in pairs, one of each" },
	{ value: "sites", label: "one pair per site" },
	{ value: "row and column", label: "balanced over rows and columns" },
	{ value: "split", label: "all treatments in each container" },
	{ value: "by hand", label: "not randomised (placed by hand)" },
];
const LIKENESS = [
	{ value: "0", label: "no more alike than others" },
	{ value: "0.05", label: "slightly alike" },
	{ value: "0.1", label: "alike, as in one tray (usual)" },
	{ value: "0.2", label: "very alike, as in one jar" },
	{ value: "0.4", label: "all succeed or fail together" },
];
const PAIR_LIKENESS = [
	{ value: "0", label: "no more alike than others" },
	{ value: "0.3", label: "fairly alike" },
	{ value: "0.6", label: "very alike" },
];

/** What the lot places, how many of them, and how it is drawn. */
export function NumbersCard({ plan, set, replace, fault, found }: CardProps) {
	const number = { plan, set, fault };
	const level = plan.level ?? "propagule";
	const plural = LEVELS.find((l) => l.value === level)?.plural ?? "units";
	const isPaired = plan.layout === "pairs" || plan.layout === "sites";
	const isMany = plan.per_container !== 1;
	const isUnequal = plan.treatments.some((t) => t.units != null && t.units !== plan.units);
	return (
		<Card
			title="Numbers and randomisation"
			aside={
				<>
					what is a <Term name="unit" />, a <Term name="block" />, a <Term name="pair" />?
				</>
			}
		>
			<div className={styles.level}>
				<LevelDrawing level={level} />
				<NativeSelect
					label="What was randomised? (the unit)"
					value={level}
					data={LEVELS.map(({ value, label }) => ({ value, label }))}
					onChange={(e) => replace(withLevel(plan, e.currentTarget.value as typeof level))}
				/>
			</div>
			<div className={styles.pair}>
				<PlanNumber
					{...number}
					field="units"
					label={isPaired ? "Pairs" : `${plural[0]?.toUpperCase()}${plural.slice(1)} per treatment`}
				/>
				<PlanNumber {...number} field="per_container" label="Plants per container" />
			</div>
			{found && <p className={styles.unitSays}>{found.unit_says}</p>}
			{isMany && (
				<>
					<NativeSelect
						label="Plants sharing a container are"
						value={String(plan.icc)}
						data={withOther(LIKENESS, plan.icc)}
						onChange={(e) => set({ icc: Number(e.currentTarget.value) })}
					/>
					<OwnNumber plan={plan} what="icc" onUse={(icc) => set({ icc })} />
					<Switch
						label="Count every plant as its own unit anyway"
						checked={plan.count_singly ?? false}
						onChange={(e) => set({ count_singly: e.currentTarget.checked })}
					/>
				</>
			)}
			<div className={styles.pair}>
				<NativeSelect
					label="Randomise"
					value={plan.layout === "blocks" && plan.blocks === 1 ? "random" : plan.layout}
					data={LAYOUTS}
					error={fault("layout")}
					onChange={(e) => replace(withLayout(plan, e.currentTarget.value))}
				/>
				{isPaired ? (
					<NativeSelect
						label="The two of a pair are"
						value={String(plan.pair_correlation)}
						data={withOther(PAIR_LIKENESS, plan.pair_correlation)}
						onChange={(e) => set({ pair_correlation: Number(e.currentTarget.value) })}
					/>
				) : (
					plan.layout !== "by hand" && (
						<PlanNumber
							{...number}
							field="blocks"
							label={plan.layout === "split" ? "Shared containers" : "Blocks (1 = none)"}
						/>
					)
				)}
			</div>
			{(isPaired || plan.blocks !== 1) && plan.layout !== "by hand" && (
				<NativeSelect
					label={isPaired ? "Pairs share the same" : "Blocks share the same"}
					value={plan.block_basis}
					data={["place", "size", "day", "person"]}
					onChange={(e) => set({ block_basis: e.currentTarget.value })}
				/>
			)}
			{isUnequal && (
				<TextInput
					label="Reason for unequal numbers"
					value={plan.unequal_reason}
					error={fault("unequal_reason")}
					onChange={(e) => set({ unequal_reason: e.currentTarget.value })}
				/>
			)}
			{(found?.hints ?? []).map((hint) => (
				<p key={hint} className={styles.hint}>
					{hint}
				</p>
			))}
			<Switch
				label="Score blind: hide treatments until the results"
				checked={plan.blind ?? false}
				onChange={(e) => set({ blind: e.currentTarget.checked })}
			/>
		</Card>
	);
}

/** The choices, with the plan's own figure where it is none of them. */
function withOther(choices: { value: string; label: string }[], value: number | undefined) {
	const own = String(value);
	if (choices.some((c) => c.value === own)) return choices;
	return [...choices, { value: own, label: `correlation ${own}` }];
}
