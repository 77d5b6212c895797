import { Button } from "@mantine/core";
import { type KeyboardEvent, type PointerEvent, useReducer, useRef, useState } from "react";
import { lengthsOf, type Marks, type Point, rootsIn } from "@/core/traces";
import { NumberField } from "./NumberField";
import styles from "./PhotoMarks.module.css";
import { WhyNot } from "./WhyNot";

const NOTHING: Marks = { scale: [], known_mm: 10, lines: [] };
const WIDTH = 1000;
/** A stroke shorter than this, in widths, is a tap; points of a stroke lie at least a step apart. */
const TAP = 0.01;
const STEP = 0.004;
/** What the server takes at most; a longer line is thinned, a further one is not begun. */
const MOST_POINTS = 400;
const MOST_LINES = 60;

/** Marks of one photo as drawn over it: the scale with its ends, each line along a root. */
export function MarksDrawing({ marks, open = [] }: { marks: Marks; open?: readonly Point[] }) {
	const at = (p: Point) => `${p[0] * WIDTH},${p[1] * WIDTH}`;
	const line = (points: readonly Point[]) => points.map(at).join(" ");
	const drawn = (points: readonly Point[], colour: string, dash?: string) => (
		<>
			<polyline points={line(points)} fill="none" stroke="#fff" strokeWidth="5" />
			<polyline
				points={line(points)}
				fill="none"
				stroke={colour}
				strokeWidth="2.5"
				strokeDasharray={dash}
			/>
			{points.length < 3 &&
				points.map((p) => (
					<circle
						key={at(p)}
						cx={p[0] * WIDTH}
						cy={p[1] * WIDTH}
						r="7"
						fill={colour}
						stroke="#fff"
					/>
				))}
		</>
	);
	return (
		<>
			{drawn(marks.scale, "#34556b", "8 5")}
			{marks.lines.map((l) => (
				<g key={line(l)}>{drawn(l, "#a94d26")}</g>
			))}
			{open.length > 0 && drawn(open, "#6b3a5b")}
		</>
	);
}

/** A photo with marks laid over it, to be looked at. */
export function MarkedPhoto({
	src,
	alt,
	marks,
}: {
	src: string;
	alt: string;
	marks: Marks | null;
}) {
	const [tall, setTall] = useState(0.75);
	return (
		<div className={styles.frame}>
			<img
				src={src}
				alt={alt}
				onLoad={(e) => setTall(e.currentTarget.naturalHeight / e.currentTarget.naturalWidth)}
			/>
			{marks && (
				<svg viewBox={`0 0 ${WIDTH} ${WIDTH * tall}`} aria-hidden="true">
					<MarksDrawing marks={marks} />
				</svg>
			)}
		</div>
	);
}

interface Drawing {
	marks: Marks;
	/** The line that is being tapped or drawn. */
	open: Point[];
	cross: Point;
}

type Act =
	| { do: "mark"; at: Point }
	| { do: "draw"; at: Point }
	| { do: "end" | "undo" }
	| { do: "known"; mm: number }
	| { do: "cross"; by: Point; most: number };

/** What a tap, a stroke or a key makes of the marks. */
export function drawing(was: Drawing, act: Act): Drawing {
	const { marks, open } = was;
	if (act.do === "known") return { ...was, marks: { ...marks, known_mm: act.mm } };
	if (act.do === "cross") {
		const [x, y] = [was.cross[0] + act.by[0], was.cross[1] + act.by[1]];
		return { ...was, cross: [Math.min(1, Math.max(0, x)), Math.min(act.most, Math.max(0, y))] };
	}
	if (act.do === "mark" || act.do === "draw") {
		if (marks.scale.length < 2) {
			return act.do === "draw"
				? was
				: { ...was, marks: { ...marks, scale: [...marks.scale, act.at] } };
		}
		if (marks.lines.length >= MOST_LINES) return was;
		return { ...was, open: [...open, act.at] };
	}
	if (act.do === "end") {
		if (open.length < 2) return { ...was, open: [] };
		return { ...was, open: [], marks: { ...marks, lines: [...marks.lines, thinned(open)] } };
	}
	if (open.length) return { ...was, open: open.slice(0, -1) };
	if (marks.lines.length) return { ...was, marks: { ...marks, lines: marks.lines.slice(0, -1) } };
	return { ...was, marks: { ...marks, scale: marks.scale.slice(0, -1) } };
}

function thinned(line: Point[]): Point[] {
	if (line.length <= MOST_POINTS) return line;
	const pick = (i: number) => Math.round((i * (line.length - 1)) / (MOST_POINTS - 1));
	return Array.from({ length: MOST_POINTS }, (_, i) => line[pick(i)] as Point);
}

export interface PhotoTracerProps {
	src: string;
	alt: string;
	was?: Marks;
	onSave: (marks: Marks) => void;
	onCancel: () => void;
}

/** Two taps on a scale of known length, then a line along each root: lengths and count as one draws. */
export function PhotoTracer({ src, alt, was = NOTHING, onSave, onCancel }: PhotoTracerProps) {
	const [state, act] = useReducer(drawing, { marks: was, open: [], cross: [0.5, 0.4] });
	const [tall, setTall] = useState(0.75);
	const [isKeyed, setKeyed] = useState(false);
	const stroke = useRef<Point[] | null>(null);
	const { marks, open } = state;
	const isScaled = marks.scale.length === 2;
	const lengths = lengthsOf(marks);
	const asks = marks.scale.length === 0 ? "one end" : "the other end";
	const why = !isScaled
		? "Mark both ends of the scale first."
		: lengths === null
			? "The two ends of the scale lie too close together: undo, and mark a longer stretch."
			: lengths.length === 0
				? "Trace at least one root."
				: "";
	const spot = (e: PointerEvent<SVGSVGElement>): Point => {
		const box = e.currentTarget.getBoundingClientRect();
		const inside = (v: number, most: number) => Math.min(most, Math.max(0, v));
		return [
			inside((e.clientX - box.left) / box.width, 1),
			inside((e.clientY - box.top) / box.width, tall),
		];
	};
	const down = (e: PointerEvent<SVGSVGElement>) => {
		if (!e.isPrimary) return;
		e.currentTarget.setPointerCapture(e.pointerId);
		stroke.current = [spot(e)];
		setKeyed(false);
	};
	const move = (e: PointerEvent<SVGSVGElement>) => {
		const drawn = stroke.current;
		const last = drawn?.at(-1);
		if (!drawn || !last || !isScaled) return;
		const here = spot(e);
		if (Math.hypot(here[0] - last[0], here[1] - last[1]) < STEP) return;
		if (drawn.length === 1) act({ do: "draw", at: drawn[0] as Point });
		drawn.push(here);
		act({ do: "draw", at: here });
	};
	const up = () => {
		const drawn = stroke.current;
		stroke.current = null;
		if (!drawn?.[0]) return;
		const end = drawn.at(-1) as Point;
		const isTap = Math.hypot(end[0] - drawn[0][0], end[1] - drawn[0][1]) < TAP && drawn.length < 4;
		if (drawn.length === 1) act({ do: "mark", at: drawn[0] });
		else if (!isTap) act({ do: "end" });
	};
	const key = (e: KeyboardEvent) => {
		const by = e.shiftKey ? 0.002 : 0.01;
		const ways: Record<string, Point> = {
			ArrowLeft: [-by, 0],
			ArrowRight: [by, 0],
			ArrowUp: [0, -by],
			ArrowDown: [0, by],
		};
		const way = ways[e.key];
		if (way) act({ do: "cross", by: way, most: tall });
		else if (e.key === "Enter") act({ do: "mark", at: state.cross });
		else if (e.key === "Backspace") act({ do: "undo" });
		else if (e.key === "e") act({ do: "end" });
		else return;
		e.preventDefault();
		setKeyed(true);
	};
	const [x, y] = [state.cross[0] * WIDTH, state.cross[1] * WIDTH];
	const cross = `M${x - 24} ${y}H${x + 24}M${x} ${y - 24}V${y + 24}`;
	return (
		<div className={styles.page}>
			<p>
				{isScaled
					? "Draw along each root from its base, or tap along it and end it. Two fingers enlarge the picture."
					: `Scale: tap ${asks} of something whose length you know, such as a ruler's 10 mm or a label.`}
			</p>
			<NumberField
				label="Length of the scale, mm"
				min={0.1}
				max={2000}
				value={marks.known_mm}
				onChange={(mm) => mm !== null && act({ do: "known", mm })}
			/>
			<div className={styles.frame}>
				<img
					src={src}
					alt={alt}
					onLoad={(e) => setTall(e.currentTarget.naturalHeight / e.currentTarget.naturalWidth)}
				/>
				<svg
					className={styles.live}
					viewBox={`0 0 ${WIDTH} ${WIDTH * tall}`}
					role="application"
					// biome-ignore lint/a11y/noNoninteractiveTabindex: marked with the keyboard, too
					tabIndex={0}
					aria-label="Photo to mark. Arrow keys move the cross, Enter marks a point, E ends a root, Backspace undoes."
					onPointerDown={down}
					onPointerMove={move}
					onPointerUp={up}
					onPointerCancel={() => {
						stroke.current = null;
						act({ do: "end" });
					}}
					onKeyDown={key}
				>
					<MarksDrawing marks={marks} open={open} />
					{isKeyed && (
						<>
							<path d={cross} stroke="#fff" strokeWidth="5" />
							<path d={cross} stroke="#22302a" strokeWidth="2" />
						</>
					)}
				</svg>
			</div>
			<p role="status">
				{lengths && lengths.length > 0 ? (
					<strong>{saidOf(lengths)}</strong>
				) : isScaled ? (
					"No root traced yet."
				) : (
					"No scale yet."
				)}
			</p>
			<div className={styles.tools}>
				<Button variant="default" disabled={open.length < 2} onClick={() => act({ do: "end" })}>
					End this root
				</Button>
				<Button
					variant="default"
					disabled={marks.scale.length === 0}
					onClick={() => act({ do: "undo" })}
				>
					Undo
				</Button>
			</div>
			<div className={styles.tools}>
				<Button disabled={why !== ""} onClick={() => onSave(drawing(state, { do: "end" }).marks)}>
					Save marks
				</Button>
				<Button variant="default" onClick={onCancel}>
					Cancel
				</Button>
			</div>
			<WhyNot>{why}</WhyNot>
		</div>
	);
}

/** Lengths as one reads them: "2 lines: 42, 18 mm; 2 roots of 5 mm or more". */
export function saidOf(lengths: readonly number[]): string {
	const each = lengths.map((x) => x.toFixed(0)).join(", ");
	const roots = rootsIn(lengths);
	const lines = lengths.length === 1 ? "1 line" : `${lengths.length} lines`;
	return `${lines}: ${each} mm; ${roots} ${roots === 1 ? "root" : "roots"} of 5 mm or more`;
}
