import { NativeSelect, TextInput } from "@mantine/core";
import { useState } from "react";
import type { Plan } from "@/api/client";
import { ladderOf, useReference } from "@/ui/reference";
import styles from "./Plan.module.css";
import type { CardProps } from "./QuestionCard";

const OUTCOMES = [
	{ value: "usual", label: "roots (of seed: seedlings)" },
	{ value: "shoot", label: "shoots" },
	{ value: "bloom", label: "bloom" },
	{ value: "bulb", label: "bulblets, new buds" },
	{ value: "own", label: "steps of my own" },
];

/** What is watched for: it brings its own stages, keys and what counts. */
export function Watched({ plan, set, fault }: Pick<CardProps, "plan" | "set" | "fault">) {
	const reference = useReference();
	const outcome = plan.outcome ?? "usual";
	const [text, setText] = useState((plan.own_steps ?? []).join(", "));
	const choose = (change: Pick<Plan, "outcome" | "own_steps">) => {
		const ladder = ladderOf(reference, { ...plan, ...change });
		const hasScore = change.outcome === "usual" || change.outcome === "bulb";
		set({
			...change,
			endpoint: ladder?.default_endpoint ?? plan.endpoint,
			also_counted: [], // they were stages of what was watched before
			measure: !hasScore && plan.measure === "quality" && !plan.graded_by ? "strike" : plan.measure,
			secondary: hasScore ? plan.secondary : (plan.secondary ?? []).filter((m) => m !== "quality"),
		});
	};
	const typed = (said: string) => {
		setText(said);
		const own_steps = said
			.split(",")
			.map((s) => s.trim())
			.filter((s) => s);
		choose({ outcome: "own", own_steps });
	};
	return (
		<div className={styles.pair}>
			<NativeSelect
				label="Watched for"
				value={outcome}
				data={OUTCOMES}
				error={fault("outcome")}
				onChange={(e) => {
					const next = e.currentTarget.value as NonNullable<Plan["outcome"]>;
					if (next === "own") typed(text || "no change, started, done");
					else choose({ outcome: next, own_steps: [] });
				}}
			/>
			{outcome === "own" && (
				<TextInput
					label="Your steps, with commas between"
					description="In their order, the first for no change."
					value={text}
					error={fault("own_steps")}
					onChange={(e) => typed(e.currentTarget.value)}
				/>
			)}
		</div>
	);
}
