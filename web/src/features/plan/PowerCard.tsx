import type { ReactNode } from "react";
import type { Consequences } from "@/api/client";
import { Card } from "@/ui/Card";
import { Why } from "@/ui/Why";
import styles from "./Plan.module.css";

const WIDTH = 460;
const HEIGHT = 190;
const LEFT = 44;
const BOTTOM = 34;

type Power = NonNullable<Consequences["power"]>;

/** What the number can and cannot show: one sentence, and the curve of the very test. */
export function PowerCard({ power, number }: { power: Power | null; number: ReactNode }) {
	return (
		<Card title="What it can show">
			{number}
			{power ? (
				<PowerBody power={power} />
			) : (
				<p className="muted">Without a control, and a whole plan, there is nothing to reckon.</p>
			)}
		</Card>
	);
}

function PowerBody({ power }: { power: Power }) {
	const most = Math.max(10, ...power.curve.map((p) => p.gap));
	const x = (g: number) => LEFT + (g / most) * (WIDTH - LEFT - 14);
	const y = (p: number) => 8 + (1 - p) * (HEIGHT - BOTTOM - 8);
	const path = (curve: Power["curve"]) =>
		curve
			.map(({ gap: g, chance: p }, i) => `${i ? "L" : "M"}${x(g).toFixed(1)} ${y(p).toFixed(1)}`)
			.join("");
	const control = `${power.effective ? `about ${power.effective} plants' worth` : power.units} of each treatment, ${power.family} in the family${power.as_unblocked ? ", reckoned as if without blocks" : ""}.`;
	return (
		<>
			<p className={styles.power}>
				<Why method="power" label={power.says} data={control}>
					{power.says}
				</Why>
			</p>
			<svg
				viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
				role="img"
				aria-label={`Chance of a clear call against the true gap. ${power.says}`}
				className={styles.chart}
			>
				{[0, 0.25, 0.5, 0.75, 1].map((p) => (
					<g key={p}>
						<line x1={LEFT} x2={WIDTH - 14} y1={y(p)} y2={y(p)} stroke="var(--rule)" />
						<text x={LEFT - 6} y={y(p) + 4} textAnchor="end">
							{100 * p}%
						</text>
					</g>
				))}
				{power.curve
					.filter(({ gap }) => gap % (most > 60 ? 20 : 10) === 0)
					.map(({ gap: g }) => (
						<text key={g} x={x(g)} y={HEIGHT - 18} textAnchor="middle">
							+{g}
						</text>
					))}
				<text x={(LEFT + WIDTH) / 2} y={HEIGHT - 3} textAnchor="middle">
					points better than the control
				</text>
				{power.curve_half.length > 0 && (
					<path d={path(power.curve_half)} className={styles.other} strokeDasharray="2 4" />
				)}
				{power.curve_double.length > 0 && (
					<path d={path(power.curve_double)} className={styles.other} strokeDasharray="8 4" />
				)}
				<path d={path(power.curve)} className={styles.this} />
			</svg>
			<p className="muted">
				Solid: {power.units} of each
				{power.curve_half.length > 0 ? `; dotted: ${Math.floor(power.units / 2)}` : ""}
				{power.curve_double.length > 0 ? `; dashed: ${power.units * 2}` : ""}.
			</p>
		</>
	);
}
