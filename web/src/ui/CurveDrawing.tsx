import { useElementSize } from "@mantine/hooks";
import type { Curve, Trial } from "@/api/client";
import { dateOfDay, decimal } from "@/core/text";
import { inUnits } from "@/core/units";
import styles from "./CurveDrawing.module.css";
import { Chart, Feet, Range, Rungs } from "./chart/Chart";
import { bandPath, linePath } from "./chart/paths";
import { linear } from "./chart/scale";
import { UnitsSwitch } from "./UnitsSwitch";
import { useUnits } from "./useUnits";

const HEIGHT = 150;
const PAD = { left: 44, right: 8, top: 10, bottom: 22 };

/** One condition along the course: least to most of each day as a band, the mean as a line. */
export function CurveDrawing({ trial, curve }: { trial: Trial; curve: Curve }) {
	const { ref, width } = useElementSize();
	const { system } = useUnits();
	const wide = width || 1000;
	if (curve.days.length === 0 || !trial.started_on) return null;
	const end = trial.plan.length_days;
	const { show, unit } = inUnits(curve.unit, system);
	const days = curve.days.map((d) => ({
		...d,
		least: show(d.least),
		mean: show(d.mean),
		most: show(d.most),
	}));
	const limits = [curve.high, curve.low].filter((v): v is number => v !== null).map(show);
	const top = Math.max(...days.map((d) => d.most), ...limits);
	const low = Math.min(...days.map((d) => d.least), ...limits);
	const x = linear([0, end], [PAD.left, wide - PAD.right]);
	const y = linear([low, top], [HEIGHT - PAD.bottom, PAD.top]);
	const runs = stretches(days);
	const looks = trial.course.filter((d) => d.state === "done" || d.state === "partial");
	const started = trial.started_on;
	const said = `${curve.label} from ${decimal(low, 1)} to ${decimal(top, 1)} ${unit} over ${curve.days.length} days`;
	return (
		<figure ref={ref} className={styles.figure}>
			<Chart width={wide} height={HEIGHT} says={said}>
				{looks.map((d) => (
					<line
						key={d.day}
						x1={x(d.day)}
						x2={x(d.day)}
						y1={PAD.top}
						y2={HEIGHT - PAD.bottom}
						className={styles.look}
					/>
				))}
				{limits.map((v) => (
					<line
						key={v}
						x1={PAD.left}
						x2={wide - PAD.right}
						y1={y(v)}
						y2={y(v)}
						className={styles.limit}
					/>
				))}
				{runs.map((run) => {
					const first = run[0];
					if (!first) return null;
					return run.length > 1 ? (
						<g key={first.day}>
							<path
								d={bandPath(run.map((d) => [x(d.day), y(d.least), y(d.most)]))}
								className={styles.band}
							/>
							<path d={linePath(run.map((d) => [x(d.day), y(d.mean)]))} className={styles.mean} />
						</g>
					) : (
						<Range
							key={first.day}
							upright
							at={x(first.day)}
							from={y(first.most)}
							to={y(first.least)}
							className={styles.mean}
						/>
					);
				})}
				<Rungs
					bare
					at={top === low ? [top] : [top, low]}
					y={y}
					from={PAD.left}
					to={wide}
					says={(v) => decimal(v, curve.quantity === "light" ? 0 : 1)}
				/>
				<Feet
					inwards
					at={wide < 500 ? [0, end] : [0, Math.round(end / 2), end]}
					x={x}
					y={HEIGHT - 6}
					says={(d) => `day ${d}, ${dateOfDay(started, d)}`}
				/>
			</Chart>
			<figcaption className="muted">
				Band: lowest to highest of each day, {unit || "no unit"}; line: its mean; upright lines:
				looks
				{limits.length > 0 && "; dashed: alarm"}.
			</figcaption>
			{(curve.unit === "°C" || curve.unit === "mm") && <UnitsSwitch />}
		</figure>
	);
}

/** Days with readings in unbroken stretches, so that no line is drawn over a gap. */
export function stretches(days: Curve["days"]): Curve["days"][] {
	const out: Curve["days"][] = [];
	for (const d of days) {
		const run = out.at(-1);
		if (run && run.at(-1)?.day === d.day - 1) run.push(d);
		else out.push([d]);
	}
	return out;
}
