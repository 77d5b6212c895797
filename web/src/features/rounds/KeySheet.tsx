import type { Ladder } from "@/api/client";
import { Sheet } from "@/ui/Sheet";
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
		["Enter", "save, or same as last look"],
	] as const;
	const flags: (readonly [string, string])[] =
		ladder.kind === "cutting"
			? [
					["s", "Shoot seen too"],
					["w", "Limp"],
				]
			: [["h", "Helped out of its coat"]];
	const looking = [
		...stages,
		["Enter", "Same as last look"],
		[".", "again what was entered last"],
		["f", "fill the row"],
		...flags,
	] as const;
	const always = [
		["arrows", "move over the bench"],
		["Backspace", "back one"],
		["z", "undo"],
		["j", "jump to the code on a label"],
		["o", "order of the round"],
		["e", "event"],
		["t", "measures"],
		["n", isCounting ? "next line" : "note"],
		["p", "photo"],
		["?", "this sheet"],
	] as const;
	return (
		<Sheet opened={isOpen} onClose={onClose} title="Keys of a round">
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
		</Sheet>
	);
}
