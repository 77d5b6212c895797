/** What the sheet beside the look and its forms are given. */

import type { EntrySent, PlanRead, Reference, Round, RoundUnit } from "@/api/client";
import type { OutboxState } from "@/api/outbox";
import type { Beside } from "../desk";
import type { Tap } from "../round";

export type Written = Omit<EntrySent, "id" | "seen_at" | "given" | "device" | "who">;

export interface BesideSheetProps {
	open: Beside | null;
	onOpen: (what: Beside | null) => void;
	trialId: string;
	round: Round;
	unit: RoundUnit;
	plan: PlanRead;
	reference: Reference;
	/** What waits here, and what the shed refused: told in the sheet, where the eye is. */
	outbox: OutboxState;
	/** Gives the id it was written under. */
	onWrite: (entry: Written) => Promise<string>;
	onPhoto: (scope: string, target: string, text: string, photo: Blob) => Promise<string>;
	onTakeBack: (id: string) => Promise<void>;
	onTap: (unitId: string, tap: Tap) => void;
	/** What names the half-written forms of this plant. */
	draft: string;
}

/** What every form in the sheet is given. */
export interface FormProps extends BesideSheetProps {
	scope: string;
	target: string;
	/** Writes an entry; whether this device kept it. What it refused stays in its form. */
	write: (entry: Pick<Written, "kind" | "what" | "values" | "text">) => Promise<boolean>;
}
