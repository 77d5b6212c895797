import styles from "./Waiting.module.css";

/** What a page will look like once it is loaded. */
export type Shape = "list" | "cards" | "tray" | "lanes";

export interface WaitingProps {
	shape: Shape;
	/** Said to those who listen; the blocks are not. */
	label?: string;
	/** Inside a trial: the head of it stands above. */
	headed?: boolean;
}

const BLOCKS: Record<Shape, readonly string[]> = {
	list: ["title", "row", "row", "row", "row"],
	cards: ["card", "card", "card", "card"],
	tray: ["tray", "panel"],
	lanes: ["headline", "lane", "lane", "lane"],
};
const CELLS = 24;

/** A page in grey while it loads, in its own shape, so that nothing jumps when it comes. */
export function Waiting({ shape, label = "Loading", headed }: WaitingProps) {
	return (
		<div role="status" aria-label={label} className={styles.waiting}>
			{headed && <div className={`${styles.block} ${styles.head}`} />}
			<div className={styles[shape]} aria-hidden>
				{BLOCKS[shape].map((name, i) => (
					<div key={`${name}${i + 1}`} className={`${styles.block} ${styles[name] ?? ""}`}>
						{name === "tray" &&
							Array.from({ length: CELLS }, (_, k) => <span key={`cell${k + 1}`} />)}
					</div>
				))}
			</div>
		</div>
	);
}
