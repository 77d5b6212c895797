import type { ReactNode } from "react";
import styles from "./Card.module.css";

export interface CardProps {
	title?: string;
	/** A quiet remark beside the title. */
	aside?: ReactNode;
	/** "clay" is for stewards' notes alone. */
	edge?: "plain" | "clay";
	children: ReactNode;
	className?: string;
}

export function Card({ title, aside, edge = "plain", children, className }: CardProps) {
	return (
		<section className={`${styles.card} ${edge === "clay" ? styles.clay : ""} ${className ?? ""}`}>
			{title && (
				<div className={styles.head}>
					<h2>{title}</h2>
					{aside && <span className={styles.aside}>{aside}</span>}
				</div>
			)}
			{children}
		</section>
	);
}
