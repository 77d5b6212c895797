import { Button, TextInput } from "@mantine/core";
import type { UseMutationResult } from "@tanstack/react-query";
import { useState } from "react";
import { points } from "@/core/text";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { SilkSquare } from "@/ui/SilkSquare";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./DryRun.module.css";
import { type Carried, designSays, parts } from "./dryrun";
import { SeasonView } from "./SeasonView";

export interface OutcomeProps {
	carried: Carried;
	/** It was stopped before its end. */
	stopped?: boolean;
	/** Where its seasons are: jobs/id, or the id of one that was kept. */
	at: string;
	keep?: UseMutationResult<unknown, Error, string>;
}

/** What a dry run came to: how often each treatment is called, and what its seasons look like. */
export function Outcome({ carried, stopped, at, keep }: OutcomeProps) {
	const { result, design } = carried;
	return (
		<>
			<Card
				title="Results"
				aside={`${designSays(design)}; ${result.done} seasons${stopped ? ", stopped early" : ""}`}
			>
				<Tallies carried={carried} />
				<ul className={styles.says}>
					{result.says.map((s) => (
						<li key={s}>{s}</li>
					))}
				</ul>
				{keep && <Keep keep={keep} />}
			</Card>
			<SeasonView at={at} carried={carried} />
		</>
	);
}

export function Tallies({ carried }: { carried: Carried }) {
	const { result, design } = carried;
	return (
		<div className={styles.tallies}>
			{result.tallies.map((t) => {
				const told = parts(t, result.done);
				const said = told.map((p) => `${p.words} ${Math.round(100 * p.share)}%`).join(", ");
				return (
					<div key={t.treatment} className={styles.tally}>
						<span className={styles.arm}>
							<SilkSquare id={design.silks[t.treatment] ?? "plain"} size={18} />{" "}
							<span dir="auto">{design.names[t.treatment]}</span>
							<span className="muted"> true difference {points(t.effect)}</span>
						</span>
						<span className={styles.bars} role="img" aria-label={said}>
							{told
								.filter((p) => p.share > 0)
								.map((p) => (
									<span key={p.what} className={styles[p.what]} style={{ flexGrow: p.share }}>
										{p.share >= 0.07 ? `${Math.round(100 * p.share)}%` : ""}
									</span>
								))}
						</span>
					</div>
				);
			})}
			<p className={styles.legend}>
				<span className={styles.right}>clear and right</span>
				<span className={styles.likely}>likely</span>
				<span className={styles.silent}>left open</span>
				<span className={styles.wrong}>clear but wrong</span>
			</p>
		</div>
	);
}

function Keep({ keep }: { keep: UseMutationResult<unknown, Error, string> }) {
	const [name, setName] = useState("");
	return (
		<form
			className={styles.buttons}
			onSubmit={(e) => {
				e.preventDefault();
				keep.mutate(name);
			}}
		>
			<TextInput
				label="Save as"
				value={name}
				maxLength={120}
				onChange={(e) => setName(e.currentTarget.value)}
			/>
			<Button type="submit" variant="default" disabled={!name.trim()} loading={keep.isPending}>
				Save
			</Button>
			<WhyNot>{name.trim() ? "" : "Give it a name first."}</WhyNot>
			{keep.isSuccess && <span role="status">Saved below</span>}
			<ProblemAlert error={keep.error} />
		</form>
	);
}
