import { Button } from "@mantine/core";
import { useUnits } from "./useUnits";

/** Shows temperatures and lengths in the other system, here and on every page of this device. */
export function UnitsSwitch() {
	const { system, change } = useUnits();
	return (
		<Button variant="subtle" size="sm" className="no-print" onClick={change}>
			{system === "us" ? "Show °C and mm" : "Show °F and inches"}
		</Button>
	);
}
