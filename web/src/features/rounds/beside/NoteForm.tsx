import { Button, Textarea } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, body } from "@/api/client";
import { useUnsaved } from "@/ui/useUnsaved";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./Beside.module.css";
import type { FormProps } from "./forms";

/** A note; what it sounds like is offered as a look, and kept only when said so. */
export function NoteForm({ trialId, scope, unit, write, onTap, draft }: FormProps) {
	const [text, setText, forget] = useUnsaved(`${draft}.note`, "");
	const [sentText, setSentText] = useState("");
	const hear = useMutation({
		mutationFn: (said: string) =>
			body(
				api.POST("/api/trials/{trial_id}/heard", {
					params: { path: { trial_id: trialId } },
					body: { text: said, unit_id: scope === "unit" ? unit.id : "" },
				}),
			),
	});
	const [settled, setSettled] = useState<string[]>([]);
	const send = async () => {
		if (!(await write({ kind: "note", what: "", values: {}, text }))) return;
		setSentText(text);
		setSettled([]);
		hear.mutate(text);
		forget();
	};
	return (
		<form
			className={styles.form}
			onSubmit={(e) => {
				e.preventDefault();
				if (text.trim()) void send();
			}}
		>
			<Textarea
				label="Note (type, or use dictation)"
				rows={3}
				maxLength={2000}
				value={text}
				onChange={(e) => setText(e.currentTarget.value)}
			/>
			<Button type="submit" disabled={!text.trim()}>
				Save note
			</Button>
			<WhyNot>{text.trim() ? "" : "Write something first."}</WhyNot>
			{(hear.data ?? [])
				.filter((h) => !settled.includes(h.says))
				.map((h) => (
					<div key={h.says} className={styles.heard}>
						<p>
							“{sentText}” sounds like <strong>{h.says}</strong>. It is only a note until you say
							so.
						</p>
						<Button
							variant="default"
							onClick={() => {
								onTap(h.unit_id, {
									kind: "look",
									stage: h.stage ?? undefined,
									loss: h.loss ?? undefined,
								});
								setSettled([...settled, h.says]);
							}}
						>
							Save as look
						</Button>
						<Button variant="default" onClick={() => setSettled([...settled, h.says])}>
							Keep as note
						</Button>
					</div>
				))}
		</form>
	);
}
