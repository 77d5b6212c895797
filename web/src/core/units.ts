/** Units as the grower has them: metric, or those of the United States. The shed keeps metric. */

export type System = "metric" | "us";

/** What a place usually reckons in, by its language. */
export function usualSystem(language: string): System {
	return language === "en-US" ? "us" : "metric";
}

export interface Converted {
	/** A kept value as it is shown. */
	show: (value: number) => number;
	unit: string;
}

const SAME = (value: number) => value;
const FAHRENHEIT = (celsius: number) => (celsius * 9) / 5 + 32;
const INCHES = (mm: number) => mm / 25.4;

/** How a kept unit is shown in a system; what has no other name there stays as it is. */
export function inUnits(unit: string, system: System): Converted {
	if (system === "us" && unit === "°C") return { show: FAHRENHEIT, unit: "°F" };
	if (system === "us" && unit === "mm") return { show: INCHES, unit: "in" };
	return { show: SAME, unit };
}

/** A difference in a kept unit: degrees without the shift of their zero. */
export function spanInUnits(value: number, unit: string, system: System): number {
	const { show } = inUnits(unit, system);
	return show(value) - show(0);
}
