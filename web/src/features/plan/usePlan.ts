import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { ApiProblem, api, body, type Plan, type Trial } from "@/api/client";
import { key, listsChanged, ofTrial, trialChanged } from "@/api/keys";
import { newSeed } from "@/core/seed";
import { useNavigate } from "@/ui/routing";
import {
	asDraft,
	type Clash,
	type Draft,
	editable,
	fieldOf,
	isComplete,
	locksOf,
	merged,
	newDraft,
	withPrepared,
} from "./plan";

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";

/** The draft on the page: kept in this tab until it is saved, so that a reload loses nothing. */
export function useDraft(trial: Trial | undefined) {
	const key = `racecard.draft.${trial?.id ?? "new"}`;
	const [draft, setDraft] = useState<Draft>(() => kept(key) ?? fromTrial(trial) ?? newDraft(ZONE));
	const [isDirty, setDirty] = useState(() => kept(key) !== undefined);
	if (trial && !isDirty && draft.revision !== trial.revision) {
		const newer = fromTrial(trial); // changed on another page or device: nothing here is lost
		if (newer) setDraft(newer);
	}
	return {
		draft,
		isDirty,
		change(next: Draft) {
			sessionStorage.setItem(key, JSON.stringify(next));
			setDirty(true);
			setDraft(next);
		},
		settled() {
			sessionStorage.removeItem(key);
			setDirty(false);
		},
	};
}

function kept(key: string): Draft | undefined {
	const found = sessionStorage.getItem(key);
	const draft = found ? (JSON.parse(found) as Draft) : undefined;
	const isOurs = draft?.plan.sides && draft.locks && draft.base !== undefined;
	return isOurs ? draft : undefined; // one kept by an older page is not
}

function fromTrial(trial: Trial | undefined): Draft | undefined {
	if (!trial) return undefined;
	const plan = editable(trial.plan);
	const { revision } = trial;
	return { plan, seed: trial.seed ?? 0, locks: locksOf(trial.bench), revision, base: plan };
}

/** What follows from the plan as it stands, asked a moment after the last key. */
export function useConsequences(draft: Draft) {
	const [asked, setAsked] = useState(draft);
	useEffect(() => {
		if (!isComplete(draft.plan)) return;
		const timer = setTimeout(() => setAsked(draft), 120);
		return () => clearTimeout(timer);
	}, [draft]);
	return useQuery({
		queryKey: key("check", asked),
		queryFn: () => body(api.POST("/api/plans/check", { body: asDraft(asked) })),
		enabled: isComplete(asked.plan), // one left half-typed comes back so
		placeholderData: keepPreviousData,
		staleTime: Number.POSITIVE_INFINITY,
		gcTime: 60_000,
	});
}

/** Two people changed the same fields of a plan: what each of them says, to choose from. */
export class Clashing extends Error {
	constructor(
		readonly mine: Draft,
		readonly clashes: readonly Clash[],
	) {
		super("Somebody else changed this plan meanwhile.");
	}
}

/** Saving, starting and throwing away. */
export function usePlanActions(trialId: string | undefined, settled: () => void) {
	const queries = useQueryClient();
	const navigate = useNavigate();
	const refresh = (trial: Trial) => {
		queries.setQueryData(ofTrial(trial.id, "whole"), trial);
		void trialChanged(queries, trial.id, ["whole"]);
	};
	const put = (id: string, draft: Draft) =>
		body(
			api.PUT("/api/trials/{trial_id}/plan", {
				params: { path: { trial_id: id } },
				body: asDraft(draft),
			}),
		);
	/** Saves a draft; where somebody else changed it meanwhile, what does not clash is put together. */
	const keep = async (draft: Draft) => {
		if (!trialId) return body(api.POST("/api/trials", { body: asDraft(draft) }));
		try {
			return await put(trialId, draft);
		} catch (error) {
			if (!(error instanceof ApiProblem) || error.code !== "stale" || !draft.base) throw error;
			const params = { path: { trial_id: trialId } };
			const newer = await body(api.GET("/api/trials/{trial_id}", { params }));
			const theirs = editable(newer.plan);
			const found = merged(
				withPrepared(draft.base, newer.plan),
				withPrepared(draft.plan, newer.plan),
				theirs,
			);
			const mine = { ...draft, plan: found.plan, revision: newer.revision, base: theirs };
			if (found.clashes.length > 0) throw new Clashing(mine, found.clashes);
			return put(trialId, mine);
		}
	};
	const save = useMutation({
		mutationFn: keep,
		onSuccess: (trial) => {
			settled();
			refresh(trial);
			if (!trialId) navigate(`/trials/${trial.id}/plan`, { replace: true });
		},
	});
	const start = useMutation({
		mutationFn: async ({ draft, at }: { draft: Draft; at: string | null }) => {
			const saved = await keep(draft);
			settled();
			refresh(saved);
			const params = { path: { trial_id: saved.id } };
			try {
				return await body(api.POST("/api/trials/{trial_id}/start", { params, body: { at } }));
			} catch (error) {
				if (trialId) throw error;
				// the draft has a page of its own now, and what is wrong is said there alone
				const state = { refused: error instanceof Error ? error.message : "" };
				navigate(`/trials/${saved.id}/plan`, { replace: true, state });
				return null;
			}
		},
		onSuccess: (trial) => {
			if (!trial) return;
			refresh(trial);
			navigate(`/trials/${trial.id}/plan`, { replace: true });
		},
	});
	const discard = useMutation({
		mutationFn: () =>
			body(api.DELETE("/api/trials/{trial_id}", { params: { path: { trial_id: trialId ?? "" } } })),
		onSuccess: () => {
			settled();
			void listsChanged(queries);
			navigate("/trials");
		},
	});
	return { save, start, discard };
}

/** Places to begin. */
export function useTemplates() {
	const { data } = useQuery({
		queryKey: key("templates"),
		queryFn: () => body(api.GET("/api/templates")),
		staleTime: Number.POSITIVE_INFINITY,
	});
	return data ?? [];
}

/** What the controls of the grower's own finished trials struck, of material like this. */
export function useBaseRates(kind: Plan["kind"], material: string) {
	const asked = useSettled(material);
	const { data } = useQuery({
		queryKey: key("base-rates", kind, asked),
		enabled: asked.trim() !== "",
		queryFn: () =>
			body(api.GET("/api/base-rates", { params: { query: { kind, material: asked } } })),
	});
	return data ?? [];
}

/** What the next control of this material may be expected to do, by the grower's own trials. */
export function useUsual(plan: Pick<Plan, "kind" | "material" | "graded_by" | "expected_score">) {
	const asked = useSettled(plan.material);
	const query = {
		kind: plan.kind,
		material: asked,
		measure: plan.graded_by || undefined,
		expected: plan.expected_score,
	};
	return useQuery({
		queryKey: key("usual", query),
		enabled: asked.trim() !== "",
		queryFn: () => body(api.GET("/api/form-book/usual", { params: { query } })),
	}).data;
}

/** A text once it has not changed for a moment. */
function useSettled(text: string): string {
	const [settled, setSettled] = useState(text);
	useEffect(() => {
		const timer = setTimeout(() => setSettled(text), 400);
		return () => clearTimeout(timer);
	}, [text]);
	return settled;
}

/** A copy of a trial's plan as a new draft, which is then opened. */
export function useCopy(trialId: string) {
	const queries = useQueryClient();
	const navigate = useNavigate();
	return useMutation({
		mutationFn: () =>
			body(
				api.POST("/api/trials/{trial_id}/copy", {
					params: { path: { trial_id: trialId } },
					body: { seed: newSeed(), alone: false },
				}),
			),
		onSuccess: (trial) => {
			void listsChanged(queries);
			navigate(`/trials/${trial.id}/plan`);
		},
	});
}

/** The sentence for a field, from the live check first, then from what a save answered. */
export function faultFor(
	field: string,
	faults: { pointer: string; says: string }[] | undefined,
	error: unknown,
): string | undefined {
	const live = faults?.find((f) => fieldOf(f.pointer) === field)?.says;
	if (live) return live;
	if (!(error instanceof ApiProblem)) return undefined;
	return error.errors.find((e) => fieldOf(e.pointer) === field)?.detail;
}

export type ChangePlan = (change: Partial<Plan>) => void;
