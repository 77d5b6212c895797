import type { Finish } from "@/api/client";
import { decimal } from "@/core/text";
import { Card } from "@/ui/Card";
import { SilkSquare } from "@/ui/SilkSquare";
import { didOf } from "./did";
import styles from "./Finish.module.css";

/** Root quality: counts per score first, means beside them. */
export function ScoreCounts({ finish }: { finish: Finish }) {
	const most = Math.max(1, ...finish.lanes.flatMap((l) => l.score_counts ?? []));
	return (
		<Card title="Root scores" aside="plants per score; lost or without roots = 0">
			{/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it */}
			<section className={styles.scroll} tabIndex={0} aria-label="Plants per root score">
				<table className={styles.scores}>
					<thead>
						<tr>
							<th scope="col">treatment</th>
							{[0, 1, 2, 3, 4, 5].map((s) => (
								<th key={s} scope="col">
									{s}
								</th>
							))}
							<th scope="col">mean of all</th>
							<th scope="col">mean of those that {didOf(finish)}</th>
						</tr>
					</thead>
					<tbody>
						{finish.lanes.map((l) => (
							<tr key={l.treatment}>
								<th scope="row">
									<SilkSquare id={l.silk} size={18} /> {l.name}
								</th>
								{(l.score_counts ?? [0, 0, 0, 0, 0, 0]).map((n, s) => (
									<td key={s}>
										<span
											className={styles.scoreBar}
											style={{ height: `${(26 * n) / most}px` }}
											aria-hidden
										/>
										{n}
									</td>
								))}
								<td>{l.score_mean_all === null ? "not scored" : decimal(l.score_mean_all, 1)}</td>
								<td>{l.score_mean_struck === null ? "none" : decimal(l.score_mean_struck, 1)}</td>
							</tr>
						))}
					</tbody>
				</table>
			</section>
		</Card>
	);
}
