import { Button, Popover, TextInput } from "@mantine/core";
import { useState } from "react";

export interface StartBoxProps {
	isSowing: boolean;
	isBusy: boolean;
	/** Days the trial is planned to run; a start further back is asked about. */
	lengthDays: number;
	/** The moment of sticking, or null for now. */
	onStart: (at: string | null) => void;
}

/** Stamps day 0: now, or when it was really stuck. */
export function StartBox({ isSowing, isBusy, lengthDays, onStart }: StartBoxProps) {
	const [at, setAt] = useState("");
	const day = at ? Math.floor((Date.now() - new Date(at).getTime()) / 86_400_000) : 0;
	const isOver = lengthDays > 0 && day > lengthDays;
	const verb = isSowing ? "sown" : "stuck";
	return (
		<Popover position="top" width={330} trapFocus hideDetached={false}>
			<Popover.Target>
				<Button loading={isBusy}>Start trial</Button>
			</Popover.Target>
			<Popover.Dropdown style={{ background: "var(--card)", color: "var(--ink)" }}>
				<form
					style={{ display: "grid", gap: 12 }}
					onSubmit={(e) => {
						e.preventDefault();
						onStart(at ? new Date(at).toISOString() : null);
					}}
				>
					<p>
						Starting sets day 0 and locks the plan: what is compared, how many, what counts and the
						tray plan. Start when everything is {verb}.
					</p>
					<TextInput
						type="datetime-local"
						label={`When was it ${verb}?`}
						description="Leave empty for now"
						value={at}
						onChange={(e) => setAt(e.currentTarget.value)}
					/>
					{isOver && (
						<p role="alert">
							Today would be day {day} of {lengthDays}: is the date right? Start it so only to write
							down a trial that is over.
						</p>
					)}
					<Button type="submit" loading={isBusy}>
						{isOver ? "The date is right: start now" : "Start now"}
					</Button>
				</form>
			</Popover.Dropdown>
		</Popover>
	);
}
