import type { StageScale } from "@/api/client";
import { Sheet } from "@/ui/Sheet";
import styles from "./Rounds.module.css";

export interface KeySheetProps {
	ladder: StageScale;
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
		ladder.outcome !== "usual"
			? [["w", "Limp"]]
			: ladder.kind === "cutting"
				? [
						["s", "Shoot"],
						["w", "Limp"],
					]
				: [["h", "Helped out of its coat"]];
	const looking = [
		...stages,
		["Enter", "Same as last look"],
		[".", "repeat last entry"],
		["f", "fill row"],
		...flags,
	] as const;
	const always = [
		["arrows", "move over the tray"],
		["Backspace", "back"],
		["z", "undo"],
		["j", "go to a label code"],
		["o", "change order"],
		["e", "event"],
		["t", "measures"],
		["n", isCounting ? "next line" : "note"],
		["p", "photo"],
		["?", "this list"],
	] as const;
	return (
		<Sheet opened={isOpen} onClose={onClose} title="Keyboard shortcuts">
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
