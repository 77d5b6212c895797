import { UnstyledButton } from "@mantine/core";
import type { ReactNode } from "react";
import type { MixCard as Card, Flag, MixQuestion } from "@/api/client";
import { Measure } from "./Measure";
import styles from "./Mixing.module.css";

const GRAVITY = { note: "Note", warn: "Mind", refuse: "Stop" } as const;

export interface MixCardProps {
	card: Card;
	/** Answers a question; null takes the answer back. */
	onAnswer: (key: string, value: string | null) => void;
	/** The card is being worked out anew. */
	isBusy?: boolean;
	/** The heading's level: h2 under the page's own, h3 inside a card. */
	under?: "h2" | "h3";
	children?: ReactNode;
}

/** What was understood, what to ask, the amounts, the sum in words, and what to beware of. */
export function MixCard({ card, onAnswer, isBusy, under: Title = "h2", children }: MixCardProps) {
	const part = card.amounts[0];
	const whole = card.amounts.find((a) => a.what === "Make up to");
	return (
		<article className={styles.card} aria-label={`Card: ${card.title}`} aria-busy={isBusy}>
			<Title>{card.title}</Title>
			{card.tokens.length > 0 ? (
				<AsRead tokens={card.tokens} />
			) : (
				<p className={styles.understood} dir="auto">
					{card.understood.join(" · ")}
				</p>
			)}
			{card.questions
				.filter((q) => q.must || q.chosen !== null)
				.map((q) => (
					<Question key={q.key} question={q} onAnswer={onAnswer} />
				))}
			<div aria-live="polite">
				{card.amounts.length > 0 && (
					<div className={styles.result}>
						{whole && part?.unit === "mL" && whole !== part && (
							<Measure
								part={part.value}
								whole={whole.value}
								label={`${part.shown} of ${whole.shown}`}
							/>
						)}
						<dl className={styles.amounts}>
							{card.amounts.map((a, i) => (
								<div key={`${a.what} ${a.unit}`} className={i === 0 ? styles.first : ""}>
									<dt>{a.what}</dt>
									<dd>{a.shown}</dd>
								</div>
							))}
						</dl>
					</div>
				)}
				{card.says.map((line) => (
					<p key={line} className={styles.says}>
						{line}
					</p>
				))}
			</div>
			<Flags flags={card.flags} />
			{card.questions
				.filter((q) => !q.must && q.chosen === null)
				.map((q) => (
					<Question key={q.key} question={q} onAnswer={onAnswer} />
				))}
			{card.cautions.length > 0 && (
				<ul className={styles.cautions} aria-label="Cautions">
					{card.cautions.map((c) => (
						<li key={c.code}>{c.says}</li>
					))}
				</ul>
			)}
			{card.sources.map((s) => (
				<p key={s} className={styles.source}>
					{s}
				</p>
			))}
			{children}
		</article>
	);
}

/** The line as it was understood: each piece with what it was taken for, filler greyed. */
function AsRead({ tokens }: { tokens: Card["tokens"] }) {
	const runs: { at: number; text: string; as: string }[] = [];
	for (const t of tokens) {
		const last = runs.at(-1);
		if (last && last.as === t.taken_as) last.text += ` ${t.text}`;
		else runs.push({ at: t.start, text: t.text, as: t.taken_as });
	}
	return (
		<p className={styles.read}>
			<span className={styles.filler}>Read as</span>
			{runs.map((r) =>
				r.as === "filler" || r.as === "joins" ? (
					<span key={r.at} className={styles.filler}>
						{r.text}
					</span>
				) : (
					<span key={r.at} className={styles.piece}>
						<b>{r.text}</b>
						<small>{r.as}</small>
					</span>
				),
			)}
		</p>
	);
}

/** Notes, warnings and stops, each with its weight in a word. */
export function Flags({ flags }: { flags: Flag[] }) {
	if (flags.length === 0) return null;
	return (
		<ul className={styles.flags}>
			{flags.map((f) => (
				<li key={f.code + f.says} className={styles[f.gravity]}>
					<strong>{GRAVITY[f.gravity]}:</strong> {f.says}
				</li>
			))}
		</ul>
	);
}

/** Whether an answer holds for this line alone or for every card. */
const KEPT: Record<string, string> = { true: "for this line", false: "saved" };

interface QuestionProps {
	question: MixQuestion;
	onAnswer: MixCardProps["onAnswer"];
}

function Question({ question: q, onAnswer }: QuestionProps) {
	if (q.must) {
		return (
			<fieldset className={styles.must}>
				<legend>{q.asks}</legend>
				{q.options.map((o) => (
					<UnstyledButton key={o.value} onClick={() => onAnswer(q.key, o.value)}>
						<span>{o.label}</span>
						{o.gives && <strong>{o.gives}</strong>}
					</UnstyledButton>
				))}
			</fieldset>
		);
	}
	const taken = q.chosen ?? q.usual;
	const label = q.options.find((o) => o.value === taken)?.label;
	return (
		<details className={styles.taken}>
			<summary>
				{q.asks} <strong>{label}</strong> ({q.chosen ? KEPT[String(q.of_line)] : "usual"}; change)
			</summary>
			<div className={styles.others}>
				{q.options.map((o) => (
					<UnstyledButton
						key={o.value}
						aria-pressed={o.value === taken}
						onClick={() => onAnswer(q.key, o.value)}
					>
						<span>{o.label}</span>
						{o.gives && <strong>{o.gives}</strong>}
					</UnstyledButton>
				))}
				{q.chosen !== null && (
					<UnstyledButton onClick={() => onAnswer(q.key, null)}>
						<span>{q.of_line ? "Take the answer back" : "Ask every time"}</span>
					</UnstyledButton>
				)}
			</div>
		</details>
	);
}
