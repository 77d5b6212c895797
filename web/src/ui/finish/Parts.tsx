import { useMediaQuery } from "@mantine/hooks";
import type { ReactNode } from "react";
import styles from "./Parts.module.css";

export interface FinishPart {
	id: string;
	/** As the line of contents and, on a phone, the fold says it. */
	title: string;
	/** A number beside the title, such as how many notes there are. */
	count?: number;
	/** Folded on a phone until it is asked for. */
	folds: boolean;
	node: ReactNode;
}

/** The parts of a finish under a line of contents that stays in sight; on a phone the companions are folded. */
export function Parts({ parts }: { parts: readonly FinishPart[] }) {
	const isPhone = useMediaQuery("(max-width: 700px)", undefined, {
		getInitialValueInEffect: false,
	});
	return (
		<>
			<nav aria-label="On this page" className={`${styles.contents} no-print`}>
				{parts.map((p) => (
					<a key={p.id} href={`#${p.id}`} onClick={() => unfold(p.id)}>
						{p.title}
						{p.count ? <span className={styles.count}> {p.count}</span> : null}
					</a>
				))}
			</nav>
			{parts.map((p) =>
				p.folds && isPhone ? (
					<details key={p.id} id={p.id} className={styles.fold}>
						<summary>{p.title}</summary>
						{p.node}
					</details>
				) : (
					<div key={p.id} id={p.id} className={styles.part}>
						{p.node}
					</div>
				),
			)}
		</>
	);
}

function unfold(id: string): void {
	const part = document.getElementById(id);
	if (part instanceof HTMLDetailsElement) part.open = true;
}
