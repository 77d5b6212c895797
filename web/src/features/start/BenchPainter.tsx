import { Button, SegmentedControl } from "@mantine/core";
import { type KeyboardEvent, useState } from "react";
import { NumberField } from "@/ui/NumberField";
import { SilkSquare } from "@/ui/SilkSquare";
import { type Begun, oneRowEach, placed, sized, standing } from "./begun";
import styles from "./Start.module.css";

const MOST_SIDE = 60;
const EMPTY = "empty";

export interface BenchPainterProps {
	places: Begun["places"];
	names: string[];
	silks: string[];
	onChange: (places: Begun["places"]) => void;
}

/** The bench from above: choose a treatment, then tap or drag over the places it stands in; digits do it by key. */
export function BenchPainter({ places, names, silks, onChange }: BenchPainterProps) {
	const [brush, setBrush] = useState("0");
	const [each, setEach] = useState<number | null>(3);
	const rows = places.length;
	const columns = places[0]?.length ?? 0;
	const arm = brush === EMPTY ? null : Number(brush);
	if (names.length < 2)
		return <p className="muted">Name the treatments first; then show here where each stands.</p>;
	const paint = (r: number, c: number, what: number | null = arm) =>
		onChange(placed(places, r, c, what));
	const counts = standing(places, names.length);
	return (
		<>
			<div className={styles.four}>
				<NumberField
					label="How many each"
					isWhole
					min={1}
					max={MOST_SIDE}
					value={each}
					onChange={setEach}
				/>
				<Button
					variant="default"
					disabled={!each}
					px="xs"
					onClick={() => onChange(oneRowEach(names.length, each ?? 1))}
				>
					One row each
				</Button>
				<NumberField
					label="Rows"
					isWhole
					min={1}
					max={MOST_SIDE}
					value={rows || null}
					onChange={(n) => n && onChange(sized(places, n, columns || 4))}
				/>
				<NumberField
					label="Places in a row"
					isWhole
					min={1}
					max={MOST_SIDE}
					value={columns || null}
					onChange={(n) => n && onChange(sized(places, rows || 2, n))}
				/>
			</div>
			{rows > 0 && (
				<>
					<p className="muted">
						The back row first. Choose a treatment, then tap or drag over its places; or press its
						number on a place.
					</p>
					<SegmentedControl
						aria-label="What stands there"
						value={brush}
						onChange={setBrush}
						data={[
							...names.map((name, i) => ({
								value: String(i),
								label: (
									<span className={styles.arm}>
										<SilkSquare id={silks[i] ?? "plain"} size={16} /> {i + 1} {name} · {counts[i]}
									</span>
								),
							})),
							{ value: EMPTY, label: "0 empty" },
						]}
						className={styles.brushes}
					/>
					<div className={styles.painter}>
						<table onKeyDown={(e) => byKey(e, names.length, paint)}>
							<tbody>
								{places.map((line, r) => (
									<tr key={r}>
										<th scope="row">{letters(r)}</th>
										{line.map((stands, c) => (
											<td key={c}>
												<button
													type="button"
													data-place={`${r} ${c}`}
													aria-label={`${letters(r)}${c + 1}: ${stands === null ? "empty" : `${stands + 1} ${names[stands]}`}`}
													onPointerDown={(e) => {
														e.currentTarget.releasePointerCapture(e.pointerId);
														paint(r, c);
													}}
													onPointerEnter={(e) => e.buttons === 1 && paint(r, c)}
													onClick={(e) => e.detail === 0 && paint(r, c)}
												>
													{stands === null ? (
														""
													) : (
														<>
															<SilkSquare id={silks[stands] ?? "plain"} size={26} />
															<small>{stands + 1}</small>
														</>
													)}
												</button>
											</td>
										))}
									</tr>
								))}
							</tbody>
						</table>
					</div>
				</>
			)}
		</>
	);
}

/** Arrows walk over the places, a digit sets a treatment, 0 or Backspace empties the place. */
function byKey(
	e: KeyboardEvent<HTMLElement>,
	arms: number,
	paint: (r: number, c: number, what: number | null) => void,
) {
	const at = (e.target as HTMLElement).dataset.place?.split(" ").map(Number);
	if (!at) return;
	const [r = 0, c = 0] = at;
	const step = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[
		e.key
	];
	const goTo = (row: number, column: number) =>
		e.currentTarget.querySelector<HTMLElement>(`[data-place="${row} ${column}"]`)?.focus();
	if (step) goTo(r + (step[0] ?? 0), c + (step[1] ?? 0));
	else if (e.key === "0" || e.key === "Backspace") paint(r, c, null);
	else if (/^[1-9]$/.test(e.key) && Number(e.key) <= arms) {
		paint(r, c, Number(e.key) - 1);
		goTo(r, c + 1);
	} else return;
	e.preventDefault();
}

/** Row 0 is A, 25 is Z, 26 is AA, as on the labels. */
function letters(row: number): string {
	const last = String.fromCharCode(65 + (row % 26));
	return row < 26 ? last : letters(Math.floor(row / 26) - 1) + last;
}
