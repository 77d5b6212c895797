import { CloseButton, Modal, type ModalProps } from "@mantine/core";
import styles from "./Sheet.module.css";
import { useBackCloses } from "./useBackCloses";

export interface SheetProps extends Omit<ModalProps, "title"> {
	title: string;
	/** Back leaves it to the page: for a sheet that asks about leaving. */
	isAboutLeaving?: boolean;
}

/** A sheet laid over the page: opened without motion, closed by its button, Escape, Back or a tap beside it. */
export function Sheet({ title, children, isAboutLeaving = false, ...rest }: SheetProps) {
	useBackCloses(rest.opened && !isAboutLeaving, rest.onClose);
	return (
		<Modal
			transitionProps={{ duration: 0 }}
			withCloseButton={false}
			attributes={{ content: { "aria-label": title } }}
			{...rest}
		>
			<div className={styles.head}>
				<h2 dir="auto">{title}</h2>
				<CloseButton aria-label="Close" size="xl" onClick={rest.onClose} />
			</div>
			{children}
		</Modal>
	);
}
