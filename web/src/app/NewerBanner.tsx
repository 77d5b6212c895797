import { Button } from "@mantine/core";
import { useSyncExternalStore } from "react";
import { isPageOlder, loadNewer, watchBuild } from "@/api/build";
import styles from "./Shell.module.css";

/** Says that the server has a newer page than this one, and loads it when it suits. */
export function NewerBanner() {
	if (!useSyncExternalStore(watchBuild, isPageOlder)) return null;
	return (
		<div role="status" className={styles.clock}>
			<p>Racecard was updated. Load the new page when it suits you; nothing you sent is lost.</p>
			<Button size="sm" variant="default" onClick={() => void loadNewer()}>
				Load the new page
			</Button>
		</div>
	);
}
