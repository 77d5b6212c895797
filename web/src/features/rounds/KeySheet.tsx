import { Modal } from "@mantine/core";
import type { Ladder } from "@/api/client";
import styles from "./Rounds.module.css";

export interface KeySheetProps {
	ladder: Ladder;
	isCounting: boolean;
	isOpen: boolean;
	onClose: () => void;
}

/** Every key of a round on one sheet. */
export function KeySheet({ ladder, isCounting, isOpen, onClose }: KeySheetProps) {
	const stages = [...ladder.stages, ...ladder.exits].map((k) => [k.key, k.name] as const);
	const counting = [
		["0–9", "count"],
		["n", "next line of the count"],
		["Enter", "save, or same as last look"],
	] as const;
	const looking = [
		...stages,
		["Enter", "Same as last look"],
		["s", "Shoot seen too"],
		["w", "Limp"],
	] as const;
	const always = [
		["arrows", "move over the bench"],
		["Backspace", "back one"],
		["z", "undo"],
		["j", "jump to the code on a label"],
		["?", "this sheet"],
	] as const;
	return (
		<Modal
			opened={isOpen}
			onClose={onClose}
			title="Keys of a round"
			transitionProps={{ duration: 0 }}
		>
			<dl className={styles.sheet}>
				{[...(isCounting ? counting : looking), ...always].map(([key, does]) => (
					<div key={key + does}>
						<dt>
							<kbd>{key}</kbd>
						</dt>
						<dd>{does}</dd>
					</div>
				))}
			</dl>
		</Modal>
	);
}
