import { Button, UnstyledButton } from "@mantine/core";
import { StageDrawing } from "@/ui/StageDrawing";
import { useUnsaved } from "@/ui/useUnsaved";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./Beside.module.css";
import type { FormProps } from "./forms";

/** Signs of harm on one plant, each in four grades. */
export function HarmForm({ reference, unit, write, draft }: FormProps) {
	const [grades, setGrades, forget] = useUnsaved<Record<string, number>>(`${draft}.harm`, {});
	const send = async () => {
		if (await write({ kind: "measure", what: "", values: grades, text: "" })) forget();
	};
	return (
		<form
			className={styles.form}
			onSubmit={(e) => {
				e.preventDefault();
				void send();
			}}
		>
			<p className={styles.hint}>
				Signs of harm on {unit.cell.code}: 0 none, 1 slight, 2 clear, 3 severe.
			</p>
			{reference.harms.map((h) => (
				<fieldset key={h.name} className={styles.harm}>
					<legend>{h.label}</legend>
					<StageDrawing name={h.drawing} size={46} />
					{reference.harm_words.map((word, grade) => (
						<UnstyledButton
							key={word}
							aria-pressed={grades[h.name] === grade}
							onClick={() => setGrades({ ...grades, [h.name]: grade })}
						>
							<strong>{grade}</strong> {word}
						</UnstyledButton>
					))}
				</fieldset>
			))}
			<Button type="submit" disabled={Object.keys(grades).length === 0}>
				Save event
			</Button>
			<WhyNot>{Object.keys(grades).length === 0 ? "Grade one sign or more." : ""}</WhyNot>
		</form>
	);
}
