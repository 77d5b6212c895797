import { useQuery } from "@tanstack/react-query";
import {
	api,
	body,
	type Plan,
	type Reference,
	type Silk,
	type StageScale,
	type Trait,
} from "@/api/client";
import { key } from "@/api/keys";

/** Silks, drawings and ladders: one answer, kept for as long as the page is open. */
export function useReference() {
	const { data } = useQuery({
		queryKey: key("reference"),
		queryFn: () => body(api.GET("/api/reference")),
		staleTime: Number.POSITIVE_INFINITY,
		meta: { isShared: true }, // no page waits for it alone: where it fails, `OldBanner` says so
	});
	return data;
}

export function useSilk(id: string): Silk | undefined {
	return useReference()?.silks.find((s) => s.id === id);
}

type Watched = Pick<Plan, "kind" | "outcome" | "own_steps">;

/** The stages of what a plan watches for; its own steps bear the grower's names. */
export function ladderOf(reference: Reference | undefined, plan: Watched): StageScale | undefined {
	const outcome = plan.outcome ?? "usual";
	const ladder = reference?.ladders.find((l) => l.kind === plan.kind && l.outcome === outcome);
	if (!ladder || outcome !== "own") return ladder;
	const names = (plan.own_steps ?? []).slice(0, ladder.stages.length);
	return {
		...ladder,
		stages: names.flatMap((name, i) => {
			const stage = ladder.stages[i];
			return stage ? [{ ...stage, name }] : [];
		}),
		endpoints: ladder.endpoints.filter((code) => code <= names.length),
		default_endpoint: names.length,
	};
}

/** The stages of a scale that bear a code, by which they are kept. */
export function codedStages(scale: StageScale | undefined): { code: number; name: string }[] {
	return (scale?.stages ?? []).flatMap(({ code, name }) => (code === null ? [] : [{ code, name }]));
}

/** The stages of a plan; undefined until they are known. */
export function useStageScale(plan: Watched | undefined): StageScale | undefined {
	const reference = useReference();
	return plan && ladderOf(reference, plan);
}

/** The measure a plan is judged on; undefined where it is judged on something else. */
export function useMeasure(plan: Pick<Plan, "graded_by">): Trait | undefined {
	return useReference()?.judged.find((t) => t.name === plan.graded_by);
}
