import { Button, TextInput, UnstyledButton } from "@mantine/core";
import { useState } from "react";
import type { MixSum } from "@/api/client";
import { CardActions } from "@/ui/mixing/CardActions";
import { MixCard } from "@/ui/mixing/MixCard";
import { Unread } from "@/ui/mixing/Unread";
import { useLine, useMixingBench, useRemember, useSettled } from "@/ui/mixing/useMix";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link, useSearchParams } from "@/ui/routing";
import { faultOf } from "@/ui/Unopened";
import styles from "./MixingPage.module.css";

/** Answers that belong to one line, such as what its comma means; they are not remembered. */
interface OwnAnswers {
	line: string;
	choices: Record<string, string>;
}
const NONE: Record<string, string> = {};

/** One line, as a grower writes it, and every sum of the bench by its room. */
export function MixingPage() {
	const bench = useMixingBench();
	const [params, setParams] = useSearchParams();
	const [line, setLine] = useState(params.get("line") ?? "");
	const asked = useSettled(line, 300);
	const [own, setOwn] = useState<OwnAnswers>({ line: "", choices: {} });
	const choices = own.line === asked ? own.choices : NONE;
	const told = useLine(asked, choices);
	const card = told.data;
	const fault = faultOf(told);
	const remember = useRemember();
	const answer = (key: string, value: string | null) => {
		const isOwn = card?.questions.find((q) => q.key === key)?.of_line;
		if (!isOwn) return remember.mutate({ [key]: value });
		const others = Object.entries(choices).filter(([k]) => k !== key);
		const kept = value === null ? others : [...others, [key, value]];
		setOwn({ line: asked, choices: Object.fromEntries(kept) });
	};
	const write = (text: string) => {
		setLine(text);
		setParams(text ? { line: text } : {}, { replace: true });
	};
	const shown = asked.trim() !== "" ? card : undefined;
	return (
		<>
			<div className={styles.top}>
				<h1>Mixing</h1>
				<nav aria-label="More pages" className={`${styles.beside} no-print`}>
					<Link to="/mixing/shelf">Stock list</Link>
					<Link to="/mixing/defaults">Defaults</Link>
					<Link to="/library#hormones">Usual strengths</Link>
				</nav>
			</div>
			<form className={`${styles.line} no-print`} onSubmit={(e) => e.preventDefault()}>
				<TextInput
					label="What do you want to make?"
					size="lg"
					value={line}
					placeholder={bench?.examples[0]}
					autoComplete="off"
					maxLength={2000}
					onChange={(e) => write(e.currentTarget.value)}
				/>
				{line && (
					<Button size="sm" variant="subtle" color="moss" onClick={() => write("")}>
						Clear
					</Button>
				)}
			</form>
			{asked.trim() !== "" && (
				<ProblemAlert error={fault}>
					<Unread line={asked} error={fault} />
				</ProblemAlert>
			)}
			{shown && (
				<MixCard card={shown} isBusy={told.isFetching} onAnswer={answer}>
					<CardActions card={shown} key={shown.text} />
				</MixCard>
			)}
			{asked.trim() === "" && bench && (
				<div className={styles.examples}>
					<span>Examples</span>
					{bench.examples.map((e) => (
						<UnstyledButton key={e} onClick={() => write(e)}>
							{e}
						</UnstyledButton>
					))}
				</div>
			)}
			{bench && <Rooms sums={bench.sums} />}
		</>
	);
}

function Rooms({ sums }: { sums: MixSum[] }) {
	const rooms = [...new Set(sums.map((s) => s.room))];
	return (
		<div className={`${styles.rooms} no-print`}>
			{rooms.map((room) => (
				<section key={room} aria-label={room} className={styles.room}>
					<h2>{room}</h2>
					<ul>
						{sums
							.filter((s) => s.room === room)
							.map((s) => (
								<li key={s.key}>
									<Link to={`/mixing/${s.key}`}>{s.title}</Link>
									<span>{s.answers}</span>
								</li>
							))}
					</ul>
				</section>
			))}
		</div>
	);
}
