import styles from "./Mixing.module.css";

/** A measuring cylinder: how much of the whole is the stock. */
export function Measure({ part, whole, label }: { part: number; whole: number; label: string }) {
	const share = Math.min(1, Math.max(0, part / whole));
	const top = 12;
	const height = 96;
	const level = top + height * (1 - share);
	return (
		<svg viewBox="0 0 74 124" className={styles.measure} role="img" aria-label={label}>
			<rect x="20" y={top} width="30" height={height} className={styles.water} />
			<rect x="20" y={level} width="30" height={height * share} className={styles.stock} />
			<path d="M16 4h38M20 4v104h30V4M12 112h46" className={styles.glass} />
			{[0, 0.25, 0.5, 0.75].map((t) => (
				<path key={t} d={`M42 ${top + height * t}h8`} className={styles.glass} />
			))}
			<path d={`M8 ${level}h12`} className={styles.mark} />
		</svg>
	);
}
