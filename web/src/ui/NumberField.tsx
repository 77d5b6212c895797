import { TextInput, type TextInputProps } from "@mantine/core";
import { type ChangeEvent, useState } from "react";
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

/** A number with its label above and what is wrong beneath; a form that holds one that is wrong is not sent. */
export function NumberField({ error, ...props }: NumberFieldProps) {
	const { fault, input } = useNumberText(props);
	return (
		<TextInput
			{...input}
			ref={(field) => field?.setCustomValidity(fault ?? "")}
			error={fault ?? error}
			errorProps={fault ? { role: "alert" } : undefined}
		/>
	);
}

/** The text of a field as it is typed, what is wrong with it, and what its input is given. */
function useNumberText<P extends Held>(props: P) {
	const { value, onChange, onCommit, min, max, isWhole, ...rest } = props;
	const limits = { min, max, isWhole };
	const given = value ?? null;
	const [text, setText] = useState(given === null ? "" : String(given));
	const [seen, setSeen] = useState(given);
	const [came, setCame] = useState(given);
	const read = readNumber(text, limits);
	if (given !== seen) {
		setSeen(given);
		if (given !== read.value) setText(given === null ? "" : String(given));
	}
	const input = {
		inputMode: isWhole ? ("numeric" as const) : ("decimal" as const),
		autoComplete: "off",
		...rest,
		value: text,
		onChange: (e: ChangeEvent<HTMLInputElement>) => {
			setText(e.currentTarget.value);
			onChange?.(readNumber(e.currentTarget.value, limits).value);
		},
		onBlur: () => {
			if (read.value === null || read.value === came) return;
			setCame(read.value);
			onCommit?.(read.value);
		},
	};
	return { fault: read.fault, input };
}
