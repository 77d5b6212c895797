import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, body, type Prepare, type Prepared, type Schemas } from "@/api/client";
import { ofTrial, trialChanged } from "@/api/keys";

/** What a trial is made from: recipes, clock, order, and what was really set. */
export function usePrepare(trialId: string) {
	const queries = useQueryClient();
	const key = ofTrial(trialId, "prepare");
	const params = { path: { trial_id: trialId } };
	const query = useQuery({
		queryKey: key,
		queryFn: () => body(api.GET("/api/trials/{trial_id}/prepare", { params })),
	});
	const settle = (found: Prepare) => {
		queries.setQueryData(key, found);
		void trialChanged(queries, trialId, ["prepare"]);
	};
	const save = useMutation({
		scope: { id: `prepare-${trialId}` }, // one after the other, as they were tapped
		mutationFn: (sent: Prepared) => {
			// taps follow each other: each is a change of what the one before it has left
			const revision = queries.getQueryData<Prepare>(key)?.revision ?? null;
			return body(
				api.PUT("/api/trials/{trial_id}/prepare", { params, body: { ...sent, revision } }),
			);
		},
		// shown at once, so that the next tap builds on this one and not on what stood before it
		onMutate: (sent: Prepared) =>
			queries.setQueryData(key, (found: Prepare | undefined) => found && withSent(found, sent)),
		onSuccess: settle,
		onError: () => queries.invalidateQueries({ queryKey: key }),
	});
	const mark = useMutation({
		mutationFn: (sent: { step: string; what: "start" | "stop" | "void" }) =>
			body(
				api.POST("/api/trials/{trial_id}/clock/marks", {
					params,
					body: { ...sent, id: newId(), at: new Date().toISOString() },
				}),
			),
		onSuccess: settle,
	});
	const note = useMutation({
		mutationFn: (items: Schemas["SettingIn"][]) =>
			body(api.POST("/api/trials/{trial_id}/settings", { params, body: { items } })),
		onSuccess: settle,
	});
	const many = useMutation({
		mutationFn: (sent: Schemas["ArmSettingIn"]) =>
			body(api.POST("/api/trials/{trial_id}/settings/many", { params, body: sent })),
		onSuccess: settle,
	});
	return { query, save, mark, note, many };
}

export type PrepareLog = ReturnType<typeof usePrepare>;

/** The fields of the clock and the sources, as they are sent back. */
export function asSent(p: Prepare): Prepared {
	return {
		plant_id: p.plant_id,
		set_at: p.set_at,
		start_together: p.start_together,
		day0: p.day0,
		unit_seconds: p.unit_seconds,
		arms: p.arms.map((a) => ({
			steps: a.steps,
			steps_settled: a.steps_settled,
			agent_id: a.agent_id,
		})),
	};
}

/** Prepare as it will stand once what is sent is kept; the clock follows with the answer. */
export function withSent(found: Prepare, sent: Prepared): Prepare {
	const { arms, revision: _, ...rest } = sent;
	return {
		...found,
		...rest,
		arms: found.arms.map((arm, i) => {
			const steps = arms[i]?.steps ?? arm.steps;
			const steps_settled = arms[i]?.steps_settled ?? arm.steps_settled;
			const proposed = steps_settled ? [] : arm.proposed;
			return {
				...arm,
				steps,
				steps_settled,
				proposed,
				agent_id: arms[i]?.agent_id ?? arm.agent_id,
			};
		}),
	};
}

/** The present moment, told anew every second while something is shown that runs. */
export function useNow(isOn: boolean): number {
	const [now, setNow] = useState(Date.now());
	useEffect(() => {
		if (!isOn) return;
		const timer = setInterval(() => setNow(Date.now()), 1000);
		return () => clearInterval(timer);
	}, [isOn]);
	return now;
}

function newId(): string {
	const bytes = crypto.getRandomValues(new Uint8Array(12));
	return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}
