import { TextInput } from "@mantine/core";
import { useState } from "react";
import styles from "./Rounds.module.css";

/** Who is at the bench: kept on this device and written beside every look. */
export function WhoField() {
	const [who, setWho] = useState(() => localStorage.getItem("racecard.who") ?? "");
	return (
		<TextInput
			size="sm"
			className={`${styles.inline} ${styles.who}`}
			label="Your name"
			value={who}
			maxLength={60}
			placeholder="grower"
			onChange={(e) => {
				setWho(e.currentTarget.value);
				localStorage.setItem("racecard.who", e.currentTarget.value.trim());
			}}
		/>
	);
}
