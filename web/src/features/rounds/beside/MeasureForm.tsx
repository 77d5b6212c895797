import { Button, NativeSelect } from "@mantine/core";
import { useState } from "react";
import type { Trait } from "@/api/client";
import { NumberField } from "@/ui/NumberField";
import { useUnsaved } from "@/ui/useUnsaved";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./Beside.module.css";
import type { FormProps } from "./forms";

/** What a measure in the grower's unit is times, in the unit it is kept in. */
function factorOf(t: Trait, units: Record<string, string>): number {
	return t.units.find((u) => u.name === (units[t.name] ?? t.units[0]?.name))?.factor ?? 1;
}

/** What was measured, each in the unit this grower uses. */
export function MeasureForm({ reference, write, draft }: FormProps) {
	const [texts, setTexts, forget] = useUnsaved<Record<string, string>>(`${draft}.measure`, {});
	const [units, setUnits] = useState<Record<string, string>>(() =>
		JSON.parse(localStorage.getItem("racecard.units") ?? "{}"),
	);
	const filled = reference.traits.filter((t) => texts[t.name]);
	const send = async () => {
		const values: Record<string, number> = {};
		for (const t of filled) {
			values[t.name] = Number(texts[t.name]) * factorOf(t, units);
		}
		if (await write({ kind: "measure", what: "", values, text: "" })) forget();
	};
	return (
		<form
			className={styles.form}
			onSubmit={(e) => {
				e.preventDefault();
				if (filled.length) void send();
			}}
		>
			<div className={styles.grid}>
				{reference.traits.map((t) => (
					<div key={t.name} className={styles.measure}>
						<NumberField
							label={t.units.length === 0 && t.unit ? `${t.label}, ${t.unit}` : t.label}
							isWhole={t.is_whole && t.units.length === 0}
							min={0}
							max={t.most / factorOf(t, units)}
							value={texts[t.name] ? Number(texts[t.name]) : null}
							onChange={(v) => setTexts({ ...texts, [t.name]: v === null ? "" : String(v) })}
						/>
						{t.units.length > 0 && (
							<NativeSelect
								aria-label={`Unit of ${t.label.toLowerCase()}`}
								data={t.units.map((u) => u.name)}
								value={units[t.name] ?? t.units[0]?.name}
								onChange={(e) => {
									const next = { ...units, [t.name]: e.currentTarget.value };
									setUnits(next);
									localStorage.setItem("racecard.units", JSON.stringify(next));
								}}
							/>
						)}
					</div>
				))}
			</div>
			<Button type="submit" disabled={filled.length === 0}>
				Save measures
			</Button>
			<WhyNot>{filled.length === 0 ? "Fill in one measure or more." : ""}</WhyNot>
		</form>
	);
}
