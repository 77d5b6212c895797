import { useMediaQuery } from "@mantine/hooks";
import type { ReactNode } from "react";
import styles from "./PhoneFold.module.css";

export interface PhoneFoldProps {
	/** What the fold is called on a phone. */
	title: string;
	children: ReactNode;
}

/** In sight at the desk; on a phone folded until it is asked for, so that the answer comes first. */
export function PhoneFold({ title, children }: PhoneFoldProps) {
	const isPhone = useMediaQuery("(max-width: 700px)", undefined, {
		getInitialValueInEffect: false,
	});
	if (!isPhone) return <div className="no-print">{children}</div>;
	return (
		<details className={`${styles.fold} no-print`}>
			<summary>{title}</summary>
			{children}
		</details>
	);
}
