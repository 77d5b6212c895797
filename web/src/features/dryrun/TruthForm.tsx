import { NumberField } from "@/ui/NumberField";
import { SilkSquare } from "@/ui/SilkSquare";
import styles from "./DryRun.module.css";
import type { Draft, Nuisance, Proposal, Truth } from "./dryrun";

export interface TruthFormProps {
	draft: Draft;
	plan: Proposal;
	onChange: (draft: Draft) => void;
}

/** What is true of each treatment, what goes wrong, and the design if it is not the plan's. */
export function TruthForm({ draft, plan, onChange }: TruthFormProps) {
	const set = (i: number, change: Partial<Truth>) =>
		onChange({
			...draft,
			truths: draft.truths.map((t, k) => (k === i ? { ...t, ...change } : t)),
		});
	const wrong = (change: Partial<Nuisance>) =>
		onChange({ ...draft, nuisance: { ...draft.nuisance, ...change } });
	return (
		<>
			{/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it */}
			<section className={styles.scroll} tabIndex={0} aria-label="True values per treatment">
				<table className={styles.truths}>
					<thead>
						<tr>
							<th scope="col">treatment</th>
							<th scope="col">true rate, %</th>
							<th scope="col">typical day</th>
							<th scope="col">spread, days</th>
							<th scope="col">lost, %</th>
							{plan.scored && <th scope="col">root score</th>}
						</tr>
					</thead>
					<tbody>
						{draft.truths.map((t, i) => {
							const name = plan.names[i] ?? "";
							return (
								<tr key={name}>
									<th scope="row">
										<SilkSquare id={plan.silks[i] ?? "plain"} size={18} />{" "}
										<span dir="auto">{name}</span>
									</th>
									<td>
										<Percent
											label={`True rate, ${name}`}
											value={t.strike}
											onChange={(v) => set(i, { strike: v })}
										/>
									</td>
									<td>
										<Amount
											label={`Day, ${name}`}
											value={t.middle_day}
											onChange={(v) => set(i, { middle_day: v })}
										/>
									</td>
									<td>
										<Amount
											label={`Spread, ${name}`}
											value={t.spread_days ?? 3}
											onChange={(v) => set(i, { spread_days: v })}
										/>
									</td>
									<td>
										<Percent
											label={`Lost, ${name}`}
											value={t.loss ?? 0}
											onChange={(v) => set(i, { loss: v })}
										/>
									</td>
									{plan.scored && (
										<td>
											<Amount
												label={`Root score, ${name}`}
												value={t.score ?? 3}
												onChange={(v) => set(i, { score: v })}
											/>
										</td>
									)}
								</tr>
							);
						})}
					</tbody>
				</table>
			</section>
			<fieldset className={styles.group}>
				<legend>Disturbances (all treatments)</legend>
				<NumberField
					label="Differences between blocks, points"
					value={draft.nuisance.block_points}
					onChange={(v) => v !== null && wrong({ block_points: v })}
				/>
				{plan.per_container > 1 || draft.perContainer > 1 ? (
					<Percent
						shown
						label="Similarity within containers, %"
						value={draft.truths[0]?.icc ?? 0}
						onChange={(v) =>
							onChange({ ...draft, truths: draft.truths.map((t) => ({ ...t, icc: v })) })
						}
					/>
				) : null}
				<Percent
					shown
					label="Missed looks, %"
					value={draft.nuisance.missed}
					onChange={(v) => wrong({ missed: v })}
				/>
				<Percent
					shown
					label="Wrong entries, %"
					value={draft.nuisance.copied_wrong}
					onChange={(v) => wrong({ copied_wrong: v })}
				/>
				<Percent
					shown
					label="Lifted halfway, %"
					value={draft.nuisance.lifted}
					onChange={(v) => wrong({ lifted: v })}
				/>
			</fieldset>
			<fieldset className={styles.group}>
				<legend>Design</legend>
				<Whole
					label="Units per treatment"
					value={draft.units}
					onChange={(v) => onChange({ ...draft, units: v })}
				/>
				<Whole
					label="Blocks"
					value={draft.blocks}
					onChange={(v) => onChange({ ...draft, blocks: v })}
				/>
				<Whole
					label="Plants per container"
					value={draft.perContainer}
					onChange={(v) => onChange({ ...draft, perContainer: v })}
				/>
				<Whole
					label="Simulations"
					value={draft.seasons}
					onChange={(v) => onChange({ ...draft, seasons: v })}
				/>
			</fieldset>
		</>
	);
}

interface FieldProps {
	label: string;
	value: number;
	onChange: (value: number) => void;
	/** The label is shown above, not only told. */
	shown?: boolean;
}

function Percent({ label, value, onChange, shown }: FieldProps) {
	return (
		<NumberField
			label={shown ? label : undefined}
			aria-label={shown ? undefined : label}
			value={Math.round(1000 * value) / 10}
			onChange={(v) => v !== null && onChange(v / 100)}
		/>
	);
}

function Amount({ label, value, onChange }: FieldProps) {
	return (
		<NumberField aria-label={label} value={value} onChange={(v) => v !== null && onChange(v)} />
	);
}

function Whole({ label, value, onChange }: FieldProps) {
	return (
		<NumberField
			label={label}
			min={1}
			isWhole
			value={value}
			onChange={(v) => v !== null && onChange(v)}
		/>
	);
}
