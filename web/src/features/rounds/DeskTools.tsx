import { NativeSelect, UnstyledButton } from "@mantine/core";
import type { Round, StageScale } from "@/api/client";
import { FillRow } from "./FillRow";
import { JumpBox } from "./JumpBox";
import { KeySheet } from "./KeySheet";
import styles from "./Rounds.module.css";
import { ORDERS, type Order } from "./round";
import { ScanBox } from "./ScanBox";
import type { DeskInUse } from "./useDesk";
import { WhoField } from "./WhoField";

const ORDER_WORDS: Record<Order, string> = {
	rows: "row by row",
	snake: "zigzag",
	shuffled: "random",
};

export interface DeskToolsProps {
	round: Round;
	ladder: StageScale;
	desk: DeskInUse;
}

/** The order, the code to jump to, who enters; and the sheets these open. */
export function DeskTools({ round, ladder, desk }: DeskToolsProps) {
	const close = () => desk.open(null);
	return (
		<>
			<div className={styles.tools}>
				<NativeSelect
					size="sm"
					className={styles.inline}
					label={
						<>
							Order <kbd>o</kbd>
						</>
					}
					data={ORDERS.map((o) => ({ value: o, label: ORDER_WORDS[o] }))}
					value={desk.mode === "look" ? desk.order : "shuffled"}
					disabled={desk.mode !== "look"}
					onChange={(e) => desk.chooseOrder(e.currentTarget.value as Order)}
				/>
				{desk.isCounting && (
					<NativeSelect
						size="sm"
						className={styles.inline}
						label="Counts"
						data={[
							{ value: "all", label: "all so far" },
							{ value: "new", label: "new since last look" },
						]}
						value={desk.byNew ? "new" : "all"}
						onChange={(e) => desk.chooseCounts(e.currentTarget.value === "new")}
					/>
				)}
				<JumpBox units={round.units} field={desk.jumpField} onJump={desk.goTo} />
				<UnstyledButton onClick={() => desk.open("scan")}>Scan label</UnstyledButton>
				<WhoField />
				<UnstyledButton onClick={() => desk.open("keys")}>
					Keys <kbd>?</kbd>
				</UnstyledButton>
			</div>
			<KeySheet
				ladder={ladder}
				isCounting={desk.isCounting}
				isOpen={desk.over === "keys"}
				onClose={close}
			/>
			<FillRow
				units={desk.rest}
				last={desk.last}
				isOpen={desk.over === "fill"}
				onFill={desk.fill}
				onClose={close}
			/>
			<ScanBox
				units={round.units}
				isOpen={desk.over === "scan"}
				onClose={close}
				onFound={desk.goTo}
			/>
		</>
	);
}
