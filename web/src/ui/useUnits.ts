import { useLocalStorage } from "@mantine/hooks";
import { type System, usualSystem } from "@/core/units";

/** The units this device shows, and how to change them. */
export function useUnits() {
	const [system, setSystem] = useLocalStorage<System>({
		key: "racecard.units",
		defaultValue: usualSystem(navigator.language),
		getInitialValueInEffect: false,
	});
	return { system, change: () => setSystem(system === "us" ? "metric" : "us") };
}
