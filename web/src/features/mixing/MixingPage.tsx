import { Button, TextInput } from "@mantine/core";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { MixSum } from "@/api/client";
import { CardActions } from "@/ui/mixing/CardActions";
import { MixCard } from "@/ui/mixing/MixCard";
import { useLine, useMixingBench, useRemember, useSettled } from "@/ui/mixing/useMix";
import { ProblemAlert } from "@/ui/ProblemAlert";
import styles from "./MixingPage.module.css";

/** One line, as a grower writes it, and every sum of the bench by its room. */
export function MixingPage() {
	const bench = useMixingBench();
	const [params, setParams] = useSearchParams();
	const [line, setLine] = useState(params.get("line") ?? "");
	const asked = useSettled(line, 300);
	const { data: card, error, isFetching } = useLine(asked);
	const remember = useRemember();
	const write = (text: string) => {
		setLine(text);
		setParams(text ? { line: text } : {}, { replace: true });
	};
	const shown = asked.trim() !== "" && !error ? card : undefined;
	return (
		<>
			<div className={styles.top}>
				<h1>Mixing bench</h1>
				<nav aria-label="Beside the bench" className={`${styles.beside} no-print`}>
					<Link to="/mixing/shelf">The shelf</Link>
					<Link to="/mixing/defaults">Defaults</Link>
				</nav>
			</div>
			<form className={`${styles.line} no-print`} onSubmit={(e) => e.preventDefault()}>
				<TextInput
					label="Write what you want to make"
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
			{asked.trim() !== "" && <ProblemAlert error={error} />}
			{shown && (
				<MixCard
					card={shown}
					isBusy={isFetching}
					onAnswer={(key, value) => remember.mutate({ [key]: value })}
				>
					<CardActions card={shown} key={shown.text} />
				</MixCard>
			)}
			{asked.trim() === "" && bench && (
				<div className={styles.examples}>
					<span>Such as</span>
					{bench.examples.map((e) => (
						<button key={e} type="button" onClick={() => write(e)}>
							{e}
						</button>
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
