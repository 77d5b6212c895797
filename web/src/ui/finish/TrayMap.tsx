import { Fragment } from "react";
import type { Finish } from "@/api/client";
import { Card } from "@/ui/Card";
import { useSilk } from "@/ui/reference";
import styles from "./Beside.module.css";
import { didOf } from "./did";

const CELL = 26;

/** The bench as it stood, each cell by what came of it: a gradient is seen. */
export function TrayMap({ finish, sides }: { finish: Finish; sides?: readonly string[] }) {
	if (finish.cells.length === 0 || finish.cells.length > 2000) return null;
	const trays = [...new Set(finish.cells.map((c) => c.tray))].sort((a, b) => a - b);
	return (
		<Card
			title="Tray map"
			picture="bench"
			aside={`fuller: more ${didOf(finish)}; cross: lost; corner: treatment pattern. Uneven trays show up here.`}
		>
			<div className={styles.trays}>
				{trays.map((t) => (
					<OneTray
						key={t}
						finish={finish}
						tray={t}
						name={trays.length > 1 ? `Tray ${t + 1}` : ""}
					/>
				))}
			</div>
			{sides?.some(Boolean) && (
				<p className={styles.note}>
					{["top", "right", "bottom", "left"]
						.map((where, i) => (sides[i] ? `${where}: ${sides[i]}` : ""))
						.filter(Boolean)
						.join(" · ")}
				</p>
			)}
		</Card>
	);
}

function OneTray({ finish, tray, name }: { finish: Finish; tray: number; name: string }) {
	const cells = finish.cells.filter((c) => c.tray === tray);
	const rows = Math.max(...cells.map((c) => c.row)) + 1;
	const columns = Math.max(...cells.map((c) => c.col)) + 1;
	const struck = cells.reduce((n, c) => n + c.struck, 0);
	return (
		<figure className={styles.tray} style={{ maxWidth: columns * 34 }}>
			<svg
				viewBox={`-1 -1 ${columns * CELL + 2} ${rows * CELL + 2}`}
				role="img"
				aria-label={`${name || "The bench"}: ${rows} rows of ${columns}; ${struck} ${didOf(finish)}. Rows from the first: ${perRow(cells, rows)}`}
			>
				{cells.map((c) => {
					const share = c.n - c.removed > 0 ? c.struck / (c.n - c.removed) : null;
					const lane = finish.lanes.find((l) => l.treatment === c.treatment);
					const x = c.col * CELL;
					const y = c.row * CELL;
					return (
						<Fragment key={c.code}>
							<title>{`${c.code}, ${lane?.name}: ${c.struck} of ${c.n} ${didOf(finish)}, ${c.lost} lost`}</title>
							<rect
								x={x + 1}
								y={y + 1}
								width={CELL - 2}
								height={CELL - 2}
								rx="4"
								className={styles.cell}
							/>
							{share !== null && (
								<rect
									x={x + 3}
									y={y + 3 + (1 - share) * (CELL - 6)}
									width={CELL - 6}
									height={share * (CELL - 6)}
									className={styles.fill}
								/>
							)}
							{c.lost === c.n && (
								<path
									d={`M${x + 8} ${y + 8}l10 10M${x + 18} ${y + 8}l-10 10`}
									className={styles.loss}
								/>
							)}
							<Corner silk={lane?.silk ?? "plain"} x={x + CELL - 11} y={y + 2} />
						</Fragment>
					);
				})}
			</svg>
			{name && <figcaption className="muted">{name}</figcaption>}
		</figure>
	);
}

function Corner({ silk, x, y }: { silk: string; x: number; y: number }) {
	const found = useSilk(silk);
	return (
		<g transform={`translate(${x} ${y}) scale(0.28)`}>
			<rect width="32" height="32" rx="5" fill={found?.ground ?? "none"} stroke={found?.ink} />
			{found?.shapes.map((s) => (
				<path key={s.d} d={s.d} fill={found.ink} fillRule="evenodd" />
			))}
		</g>
	);
}

function perRow(cells: Finish["cells"], rows: number): string {
	return Array.from({ length: rows }, (_, r) => {
		const mine = cells.filter((c) => c.row === r);
		return `${mine.reduce((n, c) => n + c.struck, 0)} of ${mine.reduce((n, c) => n + c.n, 0)}`;
	}).join(", ");
}
