import { useSyncExternalStore } from "react";
import { type OutboxState, onOutbox, outboxNow } from "@/api/outbox";

/** What this device holds, as it changes. */
export function useOutbox(): OutboxState {
	return useSyncExternalStore(onOutbox, outboxNow);
}
