import { UnstyledButton } from "@mantine/core";
import type { Consequences, Plan } from "@/api/client";
import { count, percent } from "@/core/text";
import { Card } from "@/ui/Card";
import { Chart, Feet, Rungs } from "@/ui/chart/Chart";
import { linePath } from "@/ui/chart/paths";
import { linear, marks } from "@/ui/chart/scale";
import { useMeasure } from "@/ui/reference";
import { Term } from "@/ui/Term";
import { Why } from "@/ui/Why";
import { OwnNumber } from "./OwnNumber";
import styles from "./Plan.module.css";
import { PlanNumber } from "./PlanNumber";
import type { CardProps } from "./QuestionCard";
import { useBaseRates, useUsual } from "./usePlan";

const WIDTH = 460;
const HEIGHT = 190;
const LEFT = 54;
const RIGHT = 26;
const BOTTOM = 34;
const AXIS = {
	strike: "points above the control",
	speed: "days sooner than the control",
	quality: "root score above the control",
} as const;

type Power = NonNullable<Consequences["power"]>;

/** What the number can and cannot show: sentences, and the curve of the very test. */
export function PowerCard(props: Omit<CardProps, "replace">) {
	const { plan, found } = props;
	const power = found?.power;
	const rooting = plan.kind === "cutting" && plan.outcome === "usual";
	const measure = useMeasure(plan);
	const unit = measure?.unit ? `, ${measure.unit}` : "";
	return (
		<Card
			title="What this plan can show"
			aside={<Term name="power">how often it would show it</Term>}
		>
			<div className={styles.pair}>
				<PlanNumber
					{...props}
					field="expected_percent"
					label={
						plan.graded_by
							? "Plants there to be measured, %"
							: rooting
								? "Usual strike rate of the control, %"
								: "Usual rate of the control, %"
					}
				/>
				{plan.measure === "speed" && (
					<PlanNumber
						{...props}
						field="expected_days"
						label={rooting ? "Usual days to root" : "Usual days of the control"}
					/>
				)}
				{plan.measure === "quality" && (
					<PlanNumber
						{...props}
						field="expected_score"
						label={plan.graded_by ? `Usual value of the control${unit}` : "Usual root score"}
					/>
				)}
				{plan.graded_by && (
					<PlanNumber
						{...props}
						field="usual_spread"
						label="Usual spread between plants (0: 40 % of the value)"
					/>
				)}
			</div>
			<BaseRates plan={plan} set={props.set} />
			{plan.graded_by && (
				<OwnNumber
					plan={plan}
					what="spread"
					onUse={(usual_spread) => props.set({ usual_spread })}
				/>
			)}
			{power ? (
				<PowerBody power={power} isMeasured={Boolean(plan.graded_by)} />
			) : (
				<p className="muted">Add a control and complete the plan to see what it can show.</p>
			)}
		</Card>
	);
}

/** The grower's own controls of material like this, each a click away from being the base rate. */
function BaseRates({ plan, set }: { plan: Plan; set: CardProps["set"] }) {
	const rates = useBaseRates(plan.kind, plan.material);
	const usual = useUsual(plan);
	if (rates.length === 0) return null;
	const days = plan.measure === "speed" ? usual?.half_day : undefined;
	return (
		<>
			{usual?.rate && (
				<p>
					{usual.says}{" "}
					<UnstyledButton
						className={styles.link}
						onClick={() =>
							set({
								expected_percent: Math.round(usual.rate?.percent ?? 50),
								...(days ? { expected_days: Math.round(days) } : {}),
							})
						}
					>
						use {Math.round(usual.rate.percent)} %{days ? ` and ${Math.round(days)} days` : ""}
					</UnstyledButton>
				</p>
			)}
			<ul className={styles.rates} aria-label="Your own control rates">
				{rates.map((r) => (
					<li key={r.trial}>
						<span dir="auto">{r.question}</span>: {r.struck} of {r.n} by day {r.day}{" "}
						<UnstyledButton
							className={styles.link}
							onClick={() => set({ expected_percent: Math.round(r.percent) })}
						>
							use {Math.round(r.percent)} %
						</UnstyledButton>
					</li>
				))}
			</ul>
		</>
	);
}

function PowerBody({ power, isMeasured }: { power: Power; isMeasured: boolean }) {
	const most = Math.max(...power.curve.map((p) => p.gap), 1);
	const x = linear([0, most], [LEFT, WIDTH - RIGHT]);
	const y = linear([0, 1], [HEIGHT - BOTTOM, 8]);
	const path = (curve: Power["curve"]) =>
		linePath(curve.filter((p) => p.gap <= most).map((p) => [x(p.gap), y(p.chance)]));
	const data = `${power.units} per treatment; smallest possible p ${power.minimum_p.toPrecision(2)}, corrected for ${count(power.family, "comparison")} ${power.minimum_p_holm.toPrecision(2)}; ${power.is_exact ? "exact: every outcome counted" : "simulated with the permutation test"}.`;
	return (
		<>
			<p className={styles.power}>
				<Why method="power" label={power.says} data={data}>
					{power.says}
				</Why>
			</p>
			<p>{power.needs}</p>
			{power.level && <p>{power.level}</p>}
			<Chart
				width={WIDTH}
				height={HEIGHT}
				says={`Chance of a clear call against the true gap. ${power.says}`}
			>
				<Rungs at={[0, 0.25, 0.5, 0.75, 1]} y={y} from={LEFT} to={WIDTH - RIGHT} says={percent} />
				<Feet at={marks([0, most])} x={x} y={HEIGHT - 18} says={(g) => `+${g}`} />
				<text x={(LEFT + WIDTH) / 2} y={HEIGHT - 3} textAnchor="middle">
					{isMeasured ? "above the control, in its unit" : AXIS[power.measure]}
				</text>
				{power.curve_half.length > 0 && (
					<path d={path(power.curve_half)} className={styles.other} strokeDasharray="2 4" />
				)}
				{power.curve_double.length > 0 && (
					<path d={path(power.curve_double)} className={styles.other} strokeDasharray="8 4" />
				)}
				<path d={path(power.curve)} className={styles.this} />
			</Chart>
			<p className="muted">
				Solid: {power.units} per treatment
				{power.curve_half.length > 0 ? `; dotted: ${Math.floor(power.units / 2)}` : ""}
				{power.curve_double.length > 0 ? `; dashed: ${power.units * 2}` : ""}.
			</p>
		</>
	);
}
