import type { Cell, Treatment } from "@/api/client";
import { SilkSquare } from "@/ui/SilkSquare";
import styles from "./Plan.module.css";

export interface BenchMapProps {
	cells: Cell[];
	treatments: Pick<Treatment, "name" | "silk">[];
	door: string;
}

/** The bench from above, tray by tray, as the lot dealt it. */
export function BenchMap({ cells, treatments, door }: BenchMapProps) {
	if (cells.length === 0) {
		return <p className="muted">The bench is drawn as soon as the plan above is whole.</p>;
	}
	const trays = [...new Set(cells.map((c) => c.tray))];
	const columns = Math.max(...cells.map((c) => c.col)) + 1;
	const size = columns > 14 ? 18 : columns > 10 ? 26 : 34;
	return (
		// biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
		<section className={styles.bench} tabIndex={0} aria-label="Map of the bench">
			{trays.map((tray) => {
				const here = cells.filter((c) => c.tray === tray);
				const rows = [...new Set(here.map((c) => c.row))];
				return (
					<figure key={tray} className={styles.tray}>
						<figcaption>
							Tray {tray + 1} <span className="muted">· door side at the {door}</span>
						</figcaption>
						<table style={{ borderSpacing: 4 }}>
							<thead>
								<tr>
									<td />
									{Array.from({ length: columns }, (_, c) => (
										<th key={`c${c + 1}`} scope="col">
											{c + 1}
										</th>
									))}
									<td />
								</tr>
							</thead>
							<tbody>
								{rows.map((row) => {
									const line = here.filter((c) => c.row === row);
									const block = line[0]?.block ?? 0;
									const isFirst = !here.some((c) => c.row === row - 1 && c.block === block);
									return (
										<tr key={row} className={isFirst && row > 0 ? styles.newBlock : undefined}>
											<th scope="row">{line[0]?.code.replace(/^\d+-/, "").replace(/\d+$/, "")}</th>
											{line.map((c) => (
												<td key={c.code}>
													<BenchCell cell={c} treatments={treatments} size={size} />
												</td>
											))}
											<td className={styles.blockName}>{isFirst ? `block ${block + 1}` : ""}</td>
										</tr>
									);
								})}
							</tbody>
						</table>
					</figure>
				);
			})}
		</section>
	);
}

function BenchCell({
	cell,
	treatments,
	size,
}: {
	cell: Cell;
	treatments: BenchMapProps["treatments"];
	size: number;
}) {
	if (cell.spare) {
		return (
			<span className={styles.spare} style={{ width: size, height: size }}>
				<span className="visually-hidden">spare</span>
			</span>
		);
	}
	const t = cell.treatment === null ? undefined : treatments[cell.treatment];
	if (!t) {
		return (
			<span className={styles.sealed} style={{ width: size, height: size }}>
				{cell.code}
			</span>
		);
	}
	return (
		<SilkSquare id={t.silk ?? "plain"} size={size} label={`${cell.code}: ${t.name || "unnamed"}`} />
	);
}
