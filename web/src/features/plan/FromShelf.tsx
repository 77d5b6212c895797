import { NativeSelect } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { api, body, type Plan } from "@/api/client";
import { key } from "@/api/keys";
import { Flags } from "@/ui/mixing/MixCard";
import type { ChangePlan } from "./usePlan";

/** Plant material of the shelf, taken into the plan with its words and its label. */
export function FromShelf({ plan, set }: { plan: Plan; set: ChangePlan }) {
	const { data } = useQuery({
		queryKey: key("register"),
		queryFn: () => body(api.GET("/api/materials")),
	});
	if (!data?.plants.length) return null;
	const take = (id: string) => {
		const lot = data.plants.find((p) => p.id === id);
		if (!lot) return set({ plant_id: "" });
		const label = lot.germination_percent;
		set({
			plant_id: id,
			material: plan.material.trim() || lot.words,
			...(label == null ? {} : { germination_percent: label }),
		});
	};
	return (
		<>
			<NativeSelect
				label="From your stock list"
				value={plan.plant_id ?? ""}
				onChange={(e) => take(e.currentTarget.value)}
				data={[
					{ value: "", label: "not from the stock list" },
					...data.plants.map((p) => ({ value: p.id, label: p.name })),
				]}
			/>
			<Flags flags={data.plants.find((p) => p.id === plan.plant_id)?.flags ?? []} />
		</>
	);
}
