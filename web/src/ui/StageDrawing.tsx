import { useReference } from "./reference";

export interface StageDrawingProps {
	/** Name of the drawing, as the ladder gives it. */
	name: string;
	/** Lay the drawing of a shoot over it. */
	shoot?: boolean;
	/** Draw it faintly: seen before, not in this round. */
	faint?: boolean;
	/** Height in pixels. */
	size?: number;
}

const tone = (name: string) => (name ? `var(--${name})` : "none");

/** What to look for, drawn: the same on key, tray and legend. */
export function StageDrawing({ name, shoot, faint, size = 48 }: StageDrawingProps) {
	const stages = useReference()?.stages;
	const shapes = [...(stages?.[name] ?? []), ...(shoot ? (stages?.shoot ?? []) : [])];
	return (
		<svg
			width={(size * 64) / 76}
			height={size}
			viewBox="0 -4 64 76"
			aria-hidden
			style={{ opacity: faint ? 0.42 : 1, flex: "none" }}
		>
			{shapes.map((s) => (
				<path
					key={s.d}
					d={s.d}
					fill={tone(s.fill)}
					stroke={tone(s.stroke)}
					strokeWidth={s.width}
					strokeLinecap="round"
					strokeLinejoin="round"
				/>
			))}
		</svg>
	);
}
