import { Button, NativeSelect, TextInput } from "@mantine/core";
import type { Reference } from "@/api/client";
import { NumberField } from "@/ui/NumberField";
import { useUnsaved } from "@/ui/useUnsaved";
import { WhyNot } from "@/ui/WhyNot";
import { placeOf } from "../round";
import styles from "./Beside.module.css";
import type { FormProps } from "./forms";

const NO_EVENT = { code: "watered", amount: "", text: "", to: "" };

/** Something that happened: watered, moved, treated, found. */
export function EventForm({ reference, round, unit, scope, write, draft }: FormProps) {
	const [half, set, forget] = useUnsaved(`${draft}.event`, NO_EVENT);
	const { code, amount, text, to } = half;
	const change = (part: Partial<typeof NO_EVENT>) => set({ ...half, ...part });
	const list = reference.events.filter((e) => e.by_hand || e.code === "moved");
	const event = list.find((e) => e.code === code);
	const isMove = code === "moved";
	const spot = placeOf(to, round);
	const needsText = code === "other" || code === "follow_up";
	const why =
		isMove && scope !== "unit"
			? `Only one unit is moved at a time: choose ${unit.cell.code}.`
			: isMove && spot === null
				? to.trim()
					? "There is no such place: write a row and a column, such as C4."
					: "Write where it goes, such as C4."
				: needsText && !text.trim()
					? "Say in your words what it was."
					: "";
	const there =
		spot &&
		round.units.find((u) => u.tray === spot.tray && u.row === spot.row && u.col === spot.col);
	const send = async () => {
		const values: Record<string, number> = {
			...(isMove && spot ? spot : {}),
			...(event?.amount && amount ? { amount: Number(amount) } : {}),
			...(code === "follow_up" && amount ? { day: Number(amount) } : {}),
		};
		if (await write({ kind: "event", what: code, values, text })) forget();
	};
	return (
		<form
			className={styles.form}
			onSubmit={(e) => {
				e.preventDefault();
				if (!why) void send();
			}}
		>
			<NativeSelect
				label="What happened"
				data={list.map((e) => ({ value: e.code, label: e.name }))}
				value={code}
				onChange={(e) => change({ code: e.currentTarget.value })}
			/>
			{event?.amount && (
				<Amount
					label={`Amount, ${event.amount} (optional)`}
					limits={event}
					value={amount}
					onChange={(v) => change({ amount: v })}
				/>
			)}
			{code === "follow_up" && (
				<Amount
					label="Day of the trial"
					limits={event}
					value={amount}
					onChange={(v) => change({ amount: v })}
				/>
			)}
			{isMove && (
				<TextInput
					label="New position, such as C4"
					value={to}
					maxLength={10}
					autoCapitalize="characters"
					onChange={(e) => change({ to: e.currentTarget.value })}
				/>
			)}
			{isMove && there && there.id !== unit.id && (
				<p>{there.cell.code} stands there: the two change places.</p>
			)}
			<TextInput
				label={`In your words${needsText ? "" : " (may be left open)"}`}
				value={text}
				maxLength={2000}
				onChange={(e) => change({ text: e.currentTarget.value })}
			/>
			{scope === "arm" && (
				<p className={styles.hint}>An event in one treatment only is noted in the results</p>
			)}
			<Button type="submit" disabled={why !== ""}>
				Save event
			</Button>
			<WhyNot>{why}</WhyNot>
		</form>
	);
}

interface AmountProps {
	label: string;
	limits: Reference["events"][number] | undefined;
	value: string;
	onChange: (v: string) => void;
}

function Amount({ label, limits, value, onChange }: AmountProps) {
	return (
		<NumberField
			label={label}
			min={limits?.least}
			max={limits?.most}
			isWhole={limits?.is_whole}
			value={value === "" ? null : Number(value)}
			onChange={(v) => onChange(v === null ? "" : String(v))}
		/>
	);
}
