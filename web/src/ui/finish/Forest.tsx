import type { Finish } from "@/api/client";
import { difference } from "@/core/text";
import { Card } from "@/ui/Card";
import { spanOfTens } from "@/ui/chart/scale";
import { SilkSquare } from "@/ui/SilkSquare";
import { Why } from "@/ui/Why";
import styles from "./Beside.module.css";
import { GapAxis, GapRow } from "./GapRow";

/** The gap of every treatment against the reference, with its doubt and the smallest difference that matters. */
export function Forest({ finish, margin }: { finish: Finish; margin: number | null }) {
	const shown = finish.comparisons.filter((c) => c.outcome.gap);
	const { unit } = finish;
	const factor = unit === "points" ? 100 : 1;
	const reference = finish.lanes.find((l) => l.treatment === finish.reference);
	if (shown.length === 0 || !reference) return null;
	const ends = shown.flatMap((c) => [
		c.outcome.gap?.low,
		c.outcome.gap?.high,
		c.outcome.gap?.estimate,
	]);
	const known = ends.filter((v): v is number => v != null).map((v) => factor * v);
	const widest = Math.max(0, ...known.map(Math.abs));
	const step = unit === "points" || widest > 50 ? 10 : widest > 5 ? 5 : 1;
	const span = spanOfTens([...known, ...(margin ? [margin, -margin] : [])], step);
	return (
		<Card
			title={`Against ${reference.name}`}
			picture="gaps"
			aside={`difference${unit ? ` in ${unit}` : ""}${unit === "days" ? " of waiting, fewer is sooner" : ""}, 95 % confidence interval; shaded: too small to matter`}
		>
			<div className={styles.forest}>
				{shown.map((c) => {
					const lane = finish.lanes.find((l) => l.treatment === c.treatment);
					const { estimate = 0, low = null, high = null, method = "lot" } = c.outcome.gap ?? {};
					const range =
						low === null || high === null
							? `no range: ${c.outcome.gap?.reason}`
							: `from ${difference(low, unit)} to ${difference(high, unit)}`;
					return (
						<GapRow
							key={c.treatment}
							name={
								<>
									<SilkSquare id={lane?.silk ?? "plain"} size={18} />{" "}
									<span dir="auto">{lane?.name}</span>
								</>
							}
							gap={c.outcome.gap}
							factor={factor}
							span={span}
							said={`${lane?.name}: ${difference(estimate, unit)}, ${range}`}
							margin={margin}
							broken={c.broken_interval}
							hollow={low === null}
						>
							<Why
								method={low === null ? "lot" : method}
								label={`Difference of ${lane?.name}: ${difference(estimate, unit)}`}
								data={`${difference(estimate, unit)}, ${range}. ${c.sentence}`}
							>
								<strong>{difference(estimate, unit)}</strong>
							</Why>
						</GapRow>
					);
				})}
				<GapAxis span={span} />
			</div>
			{finish.higher !== null && (
				<p className={styles.note}>
					<Why
						method="higher"
						label="Chance that the true rate is higher"
						data={`${Math.round(100 * finish.higher)} in 100. For comparison only; the grade follows the permutation test.`}
					>
						If both could have had any true rate at first, the chance that the treatment's is the
						higher one is {Math.round(100 * finish.higher)} in 100.
					</Why>
				</p>
			)}
		</Card>
	);
}
