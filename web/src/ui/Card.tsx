import type { ReactNode } from "react";
import styles from "./Card.module.css";
import { SavePicture } from "./SavePicture";

export interface CardProps {
	title?: string;
	/** A quiet remark beside the title. */
	aside?: ReactNode;
	/** "clay" is for stewards' notes alone. */
	edge?: "plain" | "clay";
	/** What the card shows, if it may be taken out as a picture. */
	picture?: string;
	children: ReactNode;
	className?: string;
}

export function Card({ title, aside, edge = "plain", picture, children, className }: CardProps) {
	return (
		<section className={`${styles.card} ${edge === "clay" ? styles.clay : ""} ${className ?? ""}`}>
			{title && (
				<div className={styles.head}>
					<h2>{title}</h2>
					{aside && <span className={styles.aside}>{aside}</span>}
				</div>
			)}
			{children}
			{picture && <SavePicture name={picture} />}
		</section>
	);
}
