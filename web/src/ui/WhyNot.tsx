import styles from "./WhyNot.module.css";

/** Beside a button that cannot be pressed yet: what is missing, in a sentence; nothing once it can. */
export function WhyNot({ children }: { children: string }) {
	return children ? <small className={styles.why}>{children}</small> : null;
}
