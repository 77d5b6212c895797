import { NumberInput } from "@mantine/core";
import type { Plan } from "@/api/client";
import { typed } from "./plan";
import type { ChangePlan } from "./usePlan";

type NumberKey = {
	[K in keyof Plan]-?: NonNullable<Plan[K]> extends number ? K : never;
}[keyof Plan];

export interface NumberFieldProps {
	plan: Plan;
	set: ChangePlan;
	fault: (field: string) => string | undefined;
	field: NumberKey;
	label: string;
	/** Fractions make sense here. */
	decimals?: boolean;
}

/** A number of the plan; what is wrong with it is said beneath it. */
export function NumberField({ plan, set, fault, field, label, decimals }: NumberFieldProps) {
	const value = plan[field];
	const isEmpty = value == null || Number.isNaN(value); // a reload reads an empty field back as null
	return (
		<NumberInput
			label={label}
			value={isEmpty ? "" : value}
			error={isEmpty ? "Give a number." : fault(field)}
			decimalScale={decimals ? 2 : 3}
			hideControls
			onChange={(v) => set({ [field]: typed(v) })}
		/>
	);
}
