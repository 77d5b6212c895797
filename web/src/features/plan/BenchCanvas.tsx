import { useEffect, useRef } from "react";
import type { Cell, Silk, Treatment } from "@/api/client";
import { useReference } from "@/ui/reference";
import styles from "./Plan.module.css";

export interface BenchCanvasProps {
	cells: Cell[];
	treatments: Pick<Treatment, "name" | "silk">[];
	/** Name of the tray, for those who do not see it. */
	name: string;
}

const CELL = 12;

/** A large tray painted in one piece, so that thousands of cells stay quick. */
export function BenchCanvas({ cells, treatments, name }: BenchCanvasProps) {
	const ref = useRef<HTMLCanvasElement>(null);
	const silks = useReference()?.silks;
	const columns = Math.max(...cells.map((c) => c.col)) + 1;
	const rows = Math.max(...cells.map((c) => c.row)) + 1;
	useEffect(() => {
		const pen = ref.current?.getContext("2d");
		if (!pen || !silks) return;
		const stamps = treatments.map((t) => stamp(silks.find((s) => s.id === t.silk)));
		pen.clearRect(0, 0, columns * CELL, rows * CELL);
		for (const cell of cells) {
			const painted = cell.treatment === null ? undefined : stamps[cell.treatment];
			if (painted) pen.drawImage(painted, cell.col * CELL, cell.row * CELL, CELL, CELL);
		}
	}, [cells, treatments, silks, columns, rows]);
	const planted = cells.filter((c) => !c.spare).length;
	return (
		<canvas
			ref={ref}
			className={styles.canvas}
			width={columns * CELL}
			height={rows * CELL}
			role="img"
			aria-label={`${name}: ${planted} units in ${rows} rows of ${columns}`}
		/>
	);
}

/** One silk painted once, to be stamped into its cells. */
function stamp(silk: Silk | undefined): HTMLCanvasElement | undefined {
	if (!silk) return undefined;
	const canvas = document.createElement("canvas");
	canvas.width = canvas.height = 2 * CELL;
	const pen = canvas.getContext("2d");
	if (!pen) return undefined;
	pen.scale((2 * CELL) / 36, (2 * CELL) / 36);
	pen.fillStyle = silk.ground;
	pen.fillRect(2, 2, 32, 32);
	pen.translate(2, 2);
	pen.fillStyle = silk.ink;
	for (const shape of silk.shapes) pen.fill(new Path2D(shape.d), "evenodd");
	return canvas;
}
