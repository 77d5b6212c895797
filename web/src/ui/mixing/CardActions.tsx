import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useState } from "react";
import type { MixCard } from "@/api/client";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { useTrial, useTrials } from "@/ui/useTrial";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./Mixing.module.css";
import { usePutOnList } from "./useMix";

/** Copy, print, or put on a trial's recipe list; a stopped recipe asks for a reason. */
export function CardActions({ card, trialId }: { card: MixCard; trialId?: string }) {
	const [copied, setCopied] = useState<boolean>();
	const copy = async () => {
		try {
			await navigator.clipboard.writeText(card.text);
			setCopied(true);
		} catch {
			setCopied(false);
		}
	};
	return (
		<div className={`${styles.actions} no-print`}>
			<Button size="sm" variant="default" onClick={copy}>
				{copied ? "Copied" : "Copy as text"}
			</Button>
			{copied === false && (
				<p role="alert">
					The browser does not allow copying: select the text on the card and copy it yourself.
				</p>
			)}
			{!trialId && (
				<Button size="sm" variant="default" onClick={() => window.print()}>
					Print
				</Button>
			)}
			{trialId ? <PutOnList card={card} trialId={trialId} /> : <ChooseTrial card={card} />}
		</div>
	);
}

function ChooseTrial({ card }: { card: MixCard }) {
	const { data } = useTrials();
	const [trialId, setTrialId] = useState("");
	if (!data?.length) return null;
	return (
		<>
			<NativeSelect
				size="sm"
				aria-label="Trial"
				value={trialId}
				onChange={(e) => setTrialId(e.currentTarget.value)}
				data={[
					{ value: "", label: "Add to the recipes of …" },
					...data
						.filter((t) => !t.finished)
						.map((t) => ({ value: t.id, label: t.question.slice(0, 60) })),
				]}
			/>
			{trialId && <PutOnList card={card} trialId={trialId} />}
		</>
	);
}

export interface PutOnListProps {
	card: MixCard;
	trialId: string;
	/** The treatment it is for, if it is known. */
	treatment?: number | null;
	onDone?: () => void;
}

export function PutOnList({ card, trialId, treatment: known, onDone }: PutOnListProps) {
	const { data: trial } = useTrial(trialId);
	const put = usePutOnList();
	const [treatment, setTreatment] = useState(known == null ? "" : String(known));
	const [override, setOverride] = useState("");
	const send = () =>
		put.mutate(
			{
				trialId,
				key: card.key,
				fields: card.fields,
				line: card.line,
				choices: card.choices,
				treatment: treatment === "" ? null : Number(treatment),
				override,
			},
			{ onSuccess: onDone },
		);
	const arms = trial?.plan.treatments ?? [];
	return (
		<>
			<NativeSelect
				size="sm"
				aria-label="Treatment"
				value={treatment}
				onChange={(e) => setTreatment(e.currentTarget.value)}
				data={[
					{ value: "", label: "for all treatments" },
					...arms.map((t, i) => ({ value: String(i), label: `for ${t.name}` })),
				]}
			/>
			{card.is_refused && (
				<TextInput
					size="sm"
					aria-label="Reason"
					placeholder="Reason for overruling"
					value={override}
					onChange={(e) => setOverride(e.currentTarget.value)}
				/>
			)}
			<Button size="sm" onClick={send} loading={put.isPending} disabled={card.is_open}>
				Add to recipes
			</Button>
			<WhyNot>{card.is_open ? "Answer the question on the card first." : ""}</WhyNot>
			{put.isSuccess && <span role="status">Added</span>}
			<ProblemAlert error={put.error} />
		</>
	);
}
