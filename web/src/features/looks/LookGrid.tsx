import { NativeSelect } from "@mantine/core";
import { type KeyboardEvent, useState } from "react";
import type { Trial } from "@/api/client";
import { dateOfDay } from "@/core/text";
import { SilkSquare } from "@/ui/SilkSquare";
import styles from "./Looks.module.css";
import { daysFrom, keyOf, savedMark } from "./looks";
import type { useLooks } from "./useLooks";

/** Rows that are drawn at once; of a longer bench one tray, or one part, at a time. */
const MOST_ROWS = 120;

export interface LookGridProps {
	trial: Trial;
	start: string;
	looks: ReturnType<typeof useLooks>;
	/** Takes a pasted block; false where it is the mark of one cell. */
	onPaste: (text: string, row: number, column: number) => boolean;
}

/** The cells themselves: arrows and Enter move, a pasted block fills from the cell it is pasted in. */
export function LookGrid({ trial, start, looks, onPaste }: LookGridProps) {
	const { grid, columns, changes, wrong } = looks;
	const [from, setFrom] = useState(0);
	const all = grid?.units ?? [];
	const rows = all.slice(from, from + MOST_ROWS);
	const arms = trial.plan.treatments;
	return (
		<>
			{all.length > MOST_ROWS && (
				<NativeSelect
					className={styles.part}
					label="Positions"
					value={String(from)}
					onChange={(e) => setFrom(Number(e.currentTarget.value))}
					data={Array.from(
						{ length: Math.ceil(all.length / MOST_ROWS) },
						(_, i) => i * MOST_ROWS,
					).map((at) => ({
						value: String(at),
						label: `${all[at]?.name} to ${all[Math.min(at + MOST_ROWS, all.length) - 1]?.name}`,
					}))}
				/>
			)}
			<div className={styles.scroll}>
				<table className={styles.grid} data-counted={trial.plan.per_container > 1 || undefined}>
					<thead>
						<tr>
							<th scope="col">Position</th>
							{columns.map((on) => (
								<th key={on} scope="col">
									{dateOfDay(start, daysFrom(start, on))}
									<small>day {daysFrom(start, on)}</small>
								</th>
							))}
						</tr>
					</thead>
					<tbody onKeyDown={moveInGrid}>
						{rows.map((unit, r) => (
							<tr key={unit.id}>
								<th scope="row">
									{unit.treatment !== null && (
										<SilkSquare
											id={arms[unit.treatment]?.silk ?? "plain"}
											size={18}
											label={arms[unit.treatment]?.name}
										/>
									)}{" "}
									{unit.name}
								</th>
								{columns.map((on, c) => {
									const key = keyOf(unit.id, on);
									const saved = grid ? savedMark(grid, unit, on) : "";
									const typed = changes[key] ?? saved;
									return (
										<td key={on} data-changed={typed.trim() !== saved || undefined}>
											<input
												aria-label={`${unit.name}, day ${daysFrom(start, on)}`}
												aria-invalid={wrong.has(key) || undefined}
												title={wrong.get(key)}
												maxLength={80}
												autoComplete="off"
												autoCapitalize="off"
												spellCheck={false}
												value={typed}
												onChange={(e) => looks.lay({ [key]: e.currentTarget.value })}
												onPaste={(e) => {
													if (onPaste(e.clipboardData.getData("text"), from + r, c))
														e.preventDefault();
												}}
											/>
										</td>
									);
								})}
							</tr>
						))}
					</tbody>
				</table>
			</div>
		</>
	);
}

/** Up, down and Enter go by row; left and right once the caret stands at the edge of the mark. */
function moveInGrid(e: KeyboardEvent<HTMLElement>) {
	const input = e.target;
	if (!(input instanceof HTMLInputElement)) return;
	const cell = input.closest("td");
	const row = cell?.parentElement as HTMLTableRowElement | null;
	if (!cell || !row) return;
	const isAtStart = input.selectionStart === 0 && input.selectionEnd === 0;
	const isAtEnd = input.selectionStart === input.value.length;
	const step = {
		ArrowDown: [1, 0],
		Enter: [1, 0],
		ArrowUp: [-1, 0],
		ArrowLeft: isAtStart ? [0, -1] : undefined,
		ArrowRight: isAtEnd ? [0, 1] : undefined,
	}[e.key];
	if (!step) return;
	const body = row.parentElement as HTMLTableSectionElement;
	const next =
		body.rows[row.sectionRowIndex + (step[0] ?? 0)]?.cells[cell.cellIndex + (step[1] ?? 0)];
	const field = next?.querySelector("input");
	if (!field) return;
	e.preventDefault();
	field.focus();
	field.select();
}
