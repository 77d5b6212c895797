import { TextInput, type TextInputProps } from "@mantine/core";
import { type InputHTMLAttributes, useId, useState } from "react";
import styles from "./NumberField.module.css";
import { type Limits, readNumber } from "./number";

interface Held extends Limits {
	value: number | null | undefined;
	/** The number that was read; null where the field is empty or holds none. */
	onChange?: (value: number | null) => void;
	/** Called on leaving the field with another number than it came with. */
	onCommit?: (value: number) => void;
}

export type NumberFieldProps = Held &
	Omit<TextInputProps, "value" | "onChange" | "onBlur" | "type" | "min" | "max">;

/** A number with its label above and what is wrong beneath. */
export function NumberField({
	value,
	onChange,
	onCommit,
	min,
	max,
	isWhole,
	error,
	...rest
}: NumberFieldProps) {
	const { text, fault, write, leave } = useNumberText({
		value,
		onChange,
		onCommit,
		min,
		max,
		isWhole,
	});
	return (
		<TextInput
			inputMode={isWhole ? "numeric" : "decimal"}
			autoComplete="off"
			{...rest}
			value={text}
			error={fault ?? error}
			onChange={(e) => write(e.currentTarget.value)}
			onBlur={leave}
		/>
	);
}

export type BareNumberProps = Held &
	Omit<
		InputHTMLAttributes<HTMLInputElement>,
		"value" | "onChange" | "onBlur" | "type" | "min" | "max"
	>;

/** The same field without a label of its own: it stands inside one. */
export function BareNumber({
	value,
	onChange,
	onCommit,
	min,
	max,
	isWhole,
	...rest
}: BareNumberProps) {
	const id = useId();
	const { text, fault, write, leave } = useNumberText({
		value,
		onChange,
		onCommit,
		min,
		max,
		isWhole,
	});
	return (
		<>
			<input
				inputMode={isWhole ? "numeric" : "decimal"}
				autoComplete="off"
				{...rest}
				ref={(field) => field?.setCustomValidity(fault ?? "")}
				aria-invalid={fault !== undefined}
				aria-describedby={fault ? id : undefined}
				value={text}
				onChange={(e) => write(e.currentTarget.value)}
				onBlur={leave}
			/>
			{fault && (
				<small id={id} role="alert" className={styles.fault}>
					{fault}
				</small>
			)}
		</>
	);
}

/** The text of a field, kept as it is typed, and the number in it. */
function useNumberText({ value, onChange, onCommit, ...limits }: Held) {
	const given = value == null || Number.isNaN(value) ? null : value;
	const [text, setText] = useState(given === null ? "" : String(given));
	const [seen, setSeen] = useState(given);
	const [came, setCame] = useState(given);
	const read = readNumber(text, limits);
	if (given !== seen) {
		setSeen(given);
		if (given !== read.value) setText(given === null ? "" : String(given));
	}
	const write = (next: string) => {
		setText(next);
		onChange?.(readNumber(next, limits).value);
	};
	const leave = () => {
		if (read.value === null || read.value === came) return;
		setCame(read.value);
		onCommit?.(read.value);
	};
	return { text, fault: read.fault, write, leave };
}
