import { useEffect } from "react";

/** Keeps the screen awake during a round, where the device can. */
export function useWakeLock() {
	useEffect(() => {
		let lock: WakeLockSentinel | undefined;
		const ask = async () => {
			if (document.visibilityState !== "visible") return;
			lock = await navigator.wakeLock?.request("screen").catch(() => undefined);
		};
		void ask();
		document.addEventListener("visibilitychange", ask);
		return () => {
			document.removeEventListener("visibilitychange", ask);
			void lock?.release();
		};
	}, []);
}
