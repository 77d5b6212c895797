import { Button } from "@mantine/core";
import type { Plan } from "@/api/client";
import { GroupChooser, type Groups } from "@/ui/GroupChooser";
import type { CardProps } from "./QuestionCard";

/** Groups of treatments that are to be compared as classes: declared now, before the start. */
export function GroupsDeclared({ plan, set, fault }: Pick<CardProps, "plan" | "set" | "fault">) {
	const told = plan.contrasts ?? [];
	const names = plan.treatments.map((t) => t.name.trim());
	const change = (contrasts: NonNullable<Plan["contrasts"]>) => set({ contrasts });
	const put = (i: number, groups: Groups) => {
		const named = (group: number[]) => group.map((k) => names[k] ?? "");
		change(
			told.map((c, k) => (k === i ? { one: named(groups.one), zero: named(groups.zero) } : c)),
		);
	};
	const numbers = (group: readonly string[]) =>
		group.map((n) => names.indexOf(n.trim())).filter((k) => k >= 0);
	if (plan.treatments.length < 3) return null;
	return (
		<fieldset style={{ border: 0, padding: 0, margin: "10px 0" }}>
			<legend>
				<strong>Groups to be compared</strong>
			</legend>
			<p className="muted">
				Such as hormones against none. Declared now it may be called; thought of afterwards it is
				marked so and never more than likely.
			</p>
			{told.map((c, i) => (
				<div key={`${i + 1}`}>
					<GroupChooser
						treatments={plan.treatments}
						groups={{ one: numbers(c.one), zero: numbers(c.zero) }}
						onChange={(groups) => put(i, groups)}
					/>
					{fault(`contrasts/${i}`) && <p role="alert">{fault(`contrasts/${i}`)}</p>}
					<Button
						variant="subtle"
						size="compact-sm"
						onClick={() => change(told.filter((_, k) => k !== i))}
					>
						Remove
					</Button>
				</div>
			))}
			{told.length < 6 && (
				<Button
					variant="default"
					size="compact-md"
					onClick={() => change([...told, { one: [], zero: [] }])}
				>
					Compare groups
				</Button>
			)}
		</fieldset>
	);
}
