import { useSilk } from "./reference";

export interface SilkSquareProps {
	/** Id of the silk. */
	id: string;
	/** Side in pixels. */
	size?: number;
	/** What it stands for, for those who do not see it; omit where the name stands beside it. */
	label?: string;
}

/** A treatment's silk, painted from its one description. */
export function SilkSquare({ id, size = 32, label }: SilkSquareProps) {
	const silk = useSilk(id);
	return (
		<svg
			width={size}
			height={size}
			viewBox="-1 -1 34 34"
			role={label ? "img" : undefined}
			aria-label={label}
			aria-hidden={label ? undefined : true}
			style={{ flex: "none" }}
		>
			<clipPath id={`silk-${id}`}>
				<rect width="32" height="32" rx="5" />
			</clipPath>
			<g clipPath={`url(#silk-${id})`}>
				<rect width="32" height="32" fill={silk?.ground ?? "transparent"} />
				{silk?.shapes.map((shape) => (
					<path key={shape.d} d={shape.d} fill={silk.ink} fillRule="evenodd" />
				))}
			</g>
			<rect width="32" height="32" rx="5" fill="none" stroke={silk?.ink} strokeOpacity="0.8" />
		</svg>
	);
}
