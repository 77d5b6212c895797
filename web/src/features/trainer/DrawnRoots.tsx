import type { Schemas } from "@/api/client";
import styles from "./Trainer.module.css";

const CLOD = [0, 14, 26, 40, 56];

export interface DrawnRootsProps {
	drawing: Schemas["DrawingOut"];
	label: string;
}

/** A root system from the side with a scale of 10 mm, the medium that stays on it, and its base from below. */
export function DrawnRoots({ drawing: d, label }: DrawnRootsProps) {
	const r = CLOD[d.clod] ?? 0;
	return (
		<svg
			viewBox="-75 -26 190 112"
			className={styles.drawing}
			role="img"
			aria-label={`${label}: a stem with its roots from the side, and from below`}
		>
			{r > 0 && <ellipse cx="0" cy={r * 0.62} rx={r} ry={r * 0.62} fill="var(--soil)" />}
			<path d="M0 -26V3" stroke="var(--stem)" strokeWidth="5" strokeLinecap="round" />
			{d.lines.map((line) => (
				<polyline
					key={line.join(";")}
					points={line.map((p) => p.join(",")).join(" ")}
					fill="none"
					stroke="var(--root)"
					strokeWidth="1.3"
				/>
			))}
			<path d="M-70 80H-60M-70 78V82M-60 78V82" stroke="var(--ink)" strokeWidth="0.8" />
			<text x="-57" y="82">
				10 mm
			</text>
			<circle cx="90" cy="10" r="14" fill="none" stroke="var(--stem)" strokeWidth="1.5" />
			<path d="M76 10H104M90 -4V24" stroke="var(--rule)" strokeWidth="0.6" />
			{d.around.map((a) => (
				<circle
					key={a}
					cx={90 + 14 * Math.cos(a)}
					cy={10 + 14 * Math.sin(a)}
					r="2"
					fill="var(--root)"
				/>
			))}
			<text x="90" y="36" textAnchor="middle">
				from below
			</text>
		</svg>
	);
}
