import type { ReactNode } from "react";
import type { Finish, Schemas } from "@/api/client";
import { dayOf as dayOfTrial, decimal } from "@/core/text";
import { Card } from "@/ui/Card";
import { SilkSquare } from "@/ui/SilkSquare";
import { Why } from "@/ui/Why";
import styles from "./Beside.module.css";
import { didOf } from "./did";

/** How long it took, of all stuck first; the mean day of the struck alone with what it leaves out. */
export function TimesCard({ finish }: { finish: Finish }) {
	const lanes = finish.lanes.filter((l) => l.times && l.n > 0);
	if (lanes.length === 0) return null;
	const did = didOf(finish);
	const by = new Map(finish.comparisons.map((c) => [c.treatment, c]));
	return (
		<Card
			title="How long it took"
			aside={`shares of all; those that never ${did} count to the last day`}
		>
			{/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it */}
			<section className={styles.scroll} tabIndex={0} aria-label="How long it took, per treatment">
				<table className={styles.table}>
					<thead>
						<tr>
							<th scope="col">treatment</th>
							<th scope="col">25 % by</th>
							<th scope="col">50 % by</th>
							<th scope="col">70 % by</th>
							<th scope="col">mean wait, all</th>
							<th scope="col">difference from control</th>
							<th scope="col">mean day of those that {did}</th>
						</tr>
					</thead>
					<tbody>
						{lanes.map((l) => {
							const t = l.times;
							const wait = by.get(l.treatment)?.wait;
							return (
								<tr key={l.treatment}>
									<th scope="row">
										<SilkSquare id={l.silk} size={18} /> <span dir="auto">{l.name}</span>
									</th>
									{t?.reached.map((r, i) => (
										<td key={[25, 50, 70][i]}>
											{r ? dayOf(r, t.linear[i], [25, 50, 70][i]) : "not reached"}
										</td>
									))}
									<td>{t?.waiting == null ? "none" : `${decimal(t.waiting, 1)} days`}</td>
									<td>
										{l.treatment === finish.reference ? (
											""
										) : wait ? (
											<Why method="waiting" label="Difference in waiting" data={waitSays(wait)}>
												{days(wait.estimate)}
											</Why>
										) : (
											"cannot be told"
										)}
									</td>
									<td className="muted">
										{t?.struck_mean == null
											? "none"
											: `day ${decimal(t.struck_mean, 1)} (${t.struck_n}; ${t.left_out} left out)`}
									</td>
								</tr>
							);
						})}
					</tbody>
				</table>
			</section>
			<p className={styles.note}>
				The last column leaves out those that never {did}, so a treatment that lost its slow plants
				looks fast. “Cannot be told”: fewer than three looks in common, or looks further apart than
				the difference.
			</p>
		</Card>
	);
}

/** The first look at which a share was reached; a straight line between looks stands behind it. */
function dayOf(
	r: Schemas["HalfOut"],
	linear: number | null | undefined,
	share: number | undefined,
): ReactNode {
	return (
		<Why
			method="half"
			label={`${share} % by day ${dayOfTrial(r.by)}`}
			data={`${share} % of all reached it some time after day ${dayOfTrial(r.after)} and by day ${dayOfTrial(r.by)}${linear == null ? "" : `; by a straight line between looks, day ${decimal(linear, 1)}`}.`}
		>
			day {dayOfTrial(r.by)}
		</Why>
	);
}

function days(value: number): string {
	const size = decimal(Math.abs(value), 1);
	return `${size} days ${value < 0 ? "less" : "more"}`;
}

function waitSays(w: Schemas["IntervalOut"]): string {
	if (w.low === null || w.high === null) return `${days(w.estimate)} of waiting; ${w.reason}.`;
	return `${days(w.estimate)} of waiting; the results fit ${decimal(w.low, 1)} to ${decimal(w.high, 1)} days.`;
}
