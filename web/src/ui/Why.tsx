import { Popover, UnstyledButton } from "@mantine/core";
import type { ReactNode } from "react";
import { useReference } from "./reference";
import styles from "./Why.module.css";

export interface WhyProps {
	/** Id of the method behind the figure. */
	method: string;
	/** The data behind it, in words. */
	data: string;
	/** What the figure is, for those who hear it. */
	label: string;
	children: ReactNode;
}

/** A figure that opens to its method, its sum, its source and the data behind it. */
export function Why({ method, data, label, children }: WhyProps) {
	const found = useReference()?.methods.find((m) => m.id === method);
	if (!found) return <>{children}</>;
	return (
		<Popover width={340} position="bottom" trapFocus returnFocus>
			<Popover.Target>
				<UnstyledButton className={styles.figure}>
					{children}
					<span className="visually-hidden"> {label}. Why?</span>
				</UnstyledButton>
			</Popover.Target>
			<Popover.Dropdown className={styles.card}>
				<h3>{found.name}</h3>
				<p>{found.says}</p>
				<p className={styles.sum}>{found.sum}</p>
				<p>
					<strong>Here:</strong> {data}
				</p>
				<p className="muted">{found.source}</p>
			</Popover.Dropdown>
		</Popover>
	);
}
