import { Button, Popover, TextInput } from "@mantine/core";
import { useState } from "react";

export interface StartBoxProps {
	isSowing: boolean;
	isBusy: boolean;
	/** The moment of sticking, or null for now. */
	onStart: (at: string | null) => void;
}

/** Stamps day 0: now, or when it was really stuck. */
export function StartBox({ isSowing, isBusy, onStart }: StartBoxProps) {
	const [at, setAt] = useState("");
	const verb = isSowing ? "sown" : "stuck";
	return (
		<Popover position="top" width={330} trapFocus>
			<Popover.Target>
				<Button loading={isBusy}>Start the trial…</Button>
			</Popover.Target>
			<Popover.Dropdown
				style={{ background: "var(--card)", color: "var(--ink)", display: "grid", gap: 12 }}
			>
				<p>
					Starting stamps day 0 and freezes the plan: what is compared, how many, the endpoint and
					the bench. Start when everything is {verb}.
				</p>
				<TextInput
					type="datetime-local"
					label={`When was it ${verb}?`}
					description="Leave empty for just now."
					value={at}
					onChange={(e) => setAt(e.currentTarget.value)}
				/>
				<Button loading={isBusy} onClick={() => onStart(at ? new Date(at).toISOString() : null)}>
					It is {verb}: start
				</Button>
			</Popover.Dropdown>
		</Popover>
	);
}
