import { Popover, UnstyledButton } from "@mantine/core";
import { useReference } from "./reference";
import styles from "./Why.module.css";

export interface TermProps {
	/** The word as the glossary has it. */
	name: string;
	/** The word as it stands here, where that differs. */
	children?: string;
}

/** A word that opens to its meaning in one line. */
export function Term({ name, children = name }: TermProps) {
	const found = useReference()?.terms.find((t) => t.name === name);
	if (!found) return <>{children}</>;
	return (
		<Popover width={300} position="bottom" trapFocus returnFocus>
			<Popover.Target>
				<UnstyledButton className={styles.figure}>
					{children}
					<span className="visually-hidden"> (what is that?)</span>
				</UnstyledButton>
			</Popover.Target>
			<Popover.Dropdown className={styles.card}>
				<h3>{found.name}</h3>
				<p>{found.meaning}</p>
			</Popover.Dropdown>
		</Popover>
	);
}
