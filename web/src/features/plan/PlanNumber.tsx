import type { Plan } from "@/api/client";
import { NumberField } from "@/ui/NumberField";
import type { ChangePlan } from "./usePlan";

type NumberKey = {
	[K in keyof Plan]-?: NonNullable<Plan[K]> extends number ? K : never;
}[keyof Plan];

export interface PlanNumberProps {
	plan: Plan;
	set: ChangePlan;
	fault: (field: string) => string | undefined;
	field: NumberKey;
	label: string;
}

/** A number of the plan; what is wrong with it is said beneath it. */
export function PlanNumber({ plan, set, fault, field, label }: PlanNumberProps) {
	const value = plan[field];
	return (
		<NumberField
			label={label}
			value={value}
			error={value == null ? "Enter a number" : fault(field)}
			onChange={(v) => set({ [field]: v } as Partial<Plan>)} // null while it is empty, then nothing is sent
		/>
	);
}
