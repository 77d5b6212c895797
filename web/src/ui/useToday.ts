import { useEffect, useState } from "react";

const EVERY_MS = 30_000;
const now = () => new Date().toLocaleDateString("sv"); // year first, in local time

/** Today's date as year, month and day; the next one soon after midnight. */
export function useToday(): string {
	const [today, setToday] = useState(now);
	useEffect(() => {
		const timer = setInterval(() => setToday(now()), EVERY_MS);
		return () => clearInterval(timer);
	}, []);
	return today;
}
