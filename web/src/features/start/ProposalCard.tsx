import { Button } from "@mantine/core";
import { SilkSquare } from "@/ui/SilkSquare";
import styles from "./Start.module.css";
import type { Proposal } from "./start";

export interface ProposalCardProps {
	proposal: Proposal;
	/** What the grower calls a container. */
	container: string;
	use: () => void;
	isBusy: boolean;
	/** It answers what was written before. */
	isOld: boolean;
}

/** One plan to choose: what is set, what it can show, what it gives up, and its bench in small. */
export function ProposalCard({ proposal, container, use, isBusy, isOld }: ProposalCardProps) {
	const p = proposal;
	return (
		<article
			className={`${styles.card} ${p.decidable ? "" : styles.cannot}`}
			data-standing={p.standing}
		>
			<header>
				<h3>{p.title}</h3>
				<span className={styles.chip}>{p.chip}</span>
			</header>
			<Bench proposal={p} container={container} />
			<p>{p.sets}</p>
			<p className={styles.shows}>{p.shows}</p>
			<p className="muted">{p.trade}</p>
			<div className={styles.act}>
				<Button
					variant={p.standing === "best" ? "filled" : "default"}
					loading={isBusy}
					disabled={isOld}
					onClick={use}
				>
					{p.decidable ? "Use this plan" : "Use it anyway"}
				</Button>
				{p.standing === "best" && (
					<details className={styles.why}>
						<summary>Why this one?</summary>
						Every plan that fits what you have was compared. None shows this difference more often
						by more than 2 in 100.
					</details>
				)}
			</div>
		</article>
	);
}

/** Each container with its stems and the pattern of its treatment, as a draw might place them. */
function Bench({ proposal: p, container }: Pick<ProposalCardProps, "proposal" | "container">) {
	const arms = p.plan.treatments;
	const silk = (i: number) => arms[i]?.silk ?? "plain";
	const stems = Math.min(p.per_container, 5);
	const size = p.bench.length > 60 ? 12 : p.bench.length > 24 ? 16 : 22;
	const rest = p.containers - p.bench.length;
	return (
		<figure className={styles.bench}>
			<div className={styles.jars} aria-hidden="true">
				{p.bench.map((arm, i) => (
					<span key={i} className={styles.jar}>
						<svg width={size} height={size / 2} viewBox="0 0 20 10" aria-hidden="true">
							{Array.from({ length: stems }, (_, k) => (20 * (k + 1)) / (stems + 1)).map((x) => (
								<path key={x} d={`M${x} 10V2m0 3l-2-3m2 4l2-3`} className={styles.stem} />
							))}
						</svg>
						<SilkSquare id={silk(arm)} size={size} />
					</span>
				))}
			</div>
			<figcaption>
				{arms.map((t, i) => (
					<span key={t.name} className={styles.arm}>
						<SilkSquare id={silk(i)} size={16} /> {t.name}
					</span>
				))}
				{rest > 0 && (
					<span className="muted">
						and {rest} more {container}s
					</span>
				)}
			</figcaption>
		</figure>
	);
}
