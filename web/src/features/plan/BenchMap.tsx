import type { KeyboardEvent } from "react";
import type { Cell, Treatment } from "@/api/client";
import { SilkSquare } from "@/ui/SilkSquare";
import { BenchCanvas } from "./BenchCanvas";
import styles from "./Plan.module.css";

export type BenchView = "treatments" | "order" | "codes";

export interface BenchMapProps {
	cells: Cell[];
	treatments: Pick<Treatment, "name" | "silk">[];
	sides: string;
	trayNames: string[];
	/** What each cell shows; default "treatments". */
	view?: BenchView;
	/** Locks or frees a cell; without it the map is only looked at. */
	onLock?: (cell: Cell) => void;
}

const MOST_DRAWN = 600;

/** The bench from above, tray by tray, as the lot dealt it. */
export function BenchMap(props: BenchMapProps) {
	const { cells, sides, trayNames } = props;
	if (cells.length === 0) {
		return <p className="muted">The tray plan appears when the plan above is complete.</p>;
	}
	const trays = [...new Set(cells.map((c) => c.tray))];
	const size = sizeFor(cells);
	return (
		// biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
		<section className={styles.bench} tabIndex={0} aria-label="Tray plan">
			{trays.map((tray) => (
				<figure key={tray} className={styles.tray}>
					<figcaption>
						{trayNames[tray] || `Tray ${tray + 1}`}{" "}
						{sides && tray === 0 && <span className="muted">· {sides}</span>}
					</figcaption>
					{cells.length > MOST_DRAWN ? (
						<BenchCanvas
							cells={cells.filter((c) => c.tray === tray)}
							treatments={props.treatments}
							name={trayNames[tray] || `Tray ${tray + 1}`}
						/>
					) : (
						<TrayTable {...props} cells={cells.filter((c) => c.tray === tray)} size={size} />
					)}
				</figure>
			))}
		</section>
	);
}

function sizeFor(cells: Cell[]): number {
	const columns = Math.max(...cells.map((c) => c.col)) + 1;
	return columns > 14 ? 18 : columns > 10 ? 26 : 34;
}

function TrayTable({ cells, size, ...props }: BenchMapProps & { size: number }) {
	const columns = Math.max(...cells.map((c) => c.col)) + 1;
	const rows = [...new Set(cells.map((c) => c.row))];
	const first = cells.find((c) => !c.spare);
	const blocks = new Set(cells.map((c) => c.block)).size;
	return (
		<table style={{ borderSpacing: 4 }} onKeyDown={moveByArrow}>
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
					const line = cells.filter((c) => c.row === row);
					const block = line[0]?.block ?? 0;
					const isFirst = !cells.some((c) => c.row === row - 1 && c.block === block);
					return (
						<tr key={row} className={isFirst && row > 0 ? styles.newBlock : undefined}>
							<th scope="row">{line[0]?.code.replace(/^\d+-/, "").replace(/\d+$/, "")}</th>
							{line.map((c) => (
								<td key={c.code}>
									<BenchCell cell={c} size={size} isFirst={c === first} {...props} />
								</td>
							))}
							<td className={styles.blockName}>
								{isFirst && blocks <= rows.length && blocks > 1 ? `block ${block + 1}` : ""}
							</td>
						</tr>
					);
				})}
			</tbody>
		</table>
	);
}

type CellProps = Pick<BenchMapProps, "treatments" | "view" | "onLock"> & {
	cell: Cell;
	size: number;
	/** The one cell of a tray that Tab reaches; arrows lead to the others. */
	isFirst: boolean;
};

function BenchCell({ cell, treatments, size, isFirst, view = "treatments", onLock }: CellProps) {
	const side = { width: size, height: size };
	if (cell.spare) {
		return (
			<span className={`${styles.spare} ${cell.border ? styles.border : ""}`} style={side}>
				<span className="visually-hidden">{cell.border ? "border" : "spare"}</span>
			</span>
		);
	}
	const t = cell.treatment === null ? undefined : treatments[cell.treatment];
	if (!t || view !== "treatments") {
		const said = view === "order" ? cell.turn : view === "codes" ? cell.label : cell.code;
		const wide = view === "codes" ? { ...side, width: Math.max(size, 40) } : side;
		return (
			<span className={styles.sealed} style={wide}>
				{said}
			</span>
		);
	}
	const name = `${cell.code}: ${t.name || "unnamed"}`;
	const silk = <SilkSquare id={t.silk ?? "plain"} size={size} label={onLock ? undefined : name} />;
	if (!onLock) return silk;
	return (
		<button
			type="button"
			className={cell.locked ? styles.locked : styles.free}
			style={side}
			aria-pressed={cell.locked}
			tabIndex={isFirst ? 0 : -1}
			data-place={`${cell.row}.${cell.col}`}
			aria-label={`${name}${cell.locked ? ", locked" : ""}`}
			title={
				cell.locked ? "Locked: keeps its treatment when the rest is randomised" : "Click to lock"
			}
			onClick={() => onLock(cell)}
		>
			{silk}
		</button>
	);
}

const STEPS: Record<string, [number, number]> = {
	ArrowUp: [-1, 0],
	ArrowDown: [1, 0],
	ArrowLeft: [0, -1],
	ArrowRight: [0, 1],
};

/** Arrows lead from cell to cell of a tray. */
function moveByArrow(event: KeyboardEvent<HTMLTableElement>) {
	const step = STEPS[event.key];
	const from = (event.target as HTMLElement).dataset.place;
	if (!step || !from) return;
	const [row = 0, col = 0] = from.split(".").map(Number);
	const to = `[data-place="${row + step[0]}.${col + step[1]}"]`;
	event.preventDefault();
	event.currentTarget.querySelector<HTMLElement>(to)?.focus();
}
