import { TextInput } from "@mantine/core";
import { type RefObject, useState } from "react";
import type { RoundUnit } from "@/api/client";
import styles from "./Rounds.module.css";
import { atCode } from "./round";

export interface JumpBoxProps {
	units: readonly RoundUnit[];
	/** The field, so that a key can lead to it. */
	field: RefObject<HTMLInputElement | null>;
	onJump: (i: number) => void;
}

/** Goes to the unit whose label is in the hand: its blind code, or its place. */
export function JumpBox({ units, field, onJump }: JumpBoxProps) {
	const [code, setCode] = useState("");
	const [missed, setMissed] = useState("");
	const jump = () => {
		const at = atCode(units, code);
		setMissed(at < 0 ? code.trim() : "");
		if (at < 0) return;
		setCode("");
		field.current?.blur();
		onJump(at);
	};
	return (
		<form
			className={styles.jump}
			onSubmit={(e) => {
				e.preventDefault();
				jump();
			}}
		>
			<TextInput
				size="sm"
				className={styles.inline}
				label={
					<>
						Label code <kbd>j</kbd>
					</>
				}
				ref={field}
				value={code}
				maxLength={12}
				autoComplete="off"
				autoCapitalize="characters"
				spellCheck={false}
				onChange={(e) => setCode(e.currentTarget.value)}
			/>
			{missed && <span role="alert">No label here says “{missed}”: read it again.</span>}
		</form>
	);
}
