import { useMemo } from "react";
import type { Schemas } from "@/api/client";
import { ticks } from "@/core/lanes";
import { heatClock } from "@/core/lines";
import { spanInUnits } from "@/core/units";
import { linear, marksToEnd } from "@/ui/chart/scale";
import { useUnits } from "@/ui/useUnits";

/** The clock of the lanes: days, or degree-days above a base. */
export interface LaneClock {
	lastDay: number;
	/** A day to pixels within a lane. */
	x: (day: number) => number;
	/** Where ticks stand, pixels, and what they say. */
	ticks: number[];
	labels: string[];
	name: string;
}

export function useClock(
	lastDay: number,
	width: number,
	heat: Schemas["HeatOut"] | null | undefined,
	byHeat: boolean,
): LaneClock {
	const { system } = useUnits();
	return useMemo(() => {
		if (byHeat && heat) {
			const at = heatClock(heat.upto.map((v) => spanInUnits(v, "°C", system)));
			const end = at(lastDay);
			const x = linear([0, end], [0, width]);
			const values = marksToEnd(end);
			return {
				lastDay,
				x: (day: number) => x(at(Math.min(day, lastDay))),
				ticks: values.map(x),
				labels: values.map((v) => `${v}`),
				name: "degree-days",
			};
		}
		return dayClock(lastDay, width);
	}, [lastDay, width, heat, byHeat, system]);
}

/** The clock that runs in days. */
export function dayClock(lastDay: number, width: number): LaneClock {
	const x = linear([0, Math.max(1, lastDay)], [0, width]);
	const days = ticks(lastDay);
	return {
		lastDay,
		x: (day: number) => x(Math.min(day, lastDay)),
		ticks: days.map(x),
		labels: days.map((d) => `${d}`),
		name: "day",
	};
}
