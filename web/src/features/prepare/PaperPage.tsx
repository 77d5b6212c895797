import { Button } from "@mantine/core";
import { Fragment } from "react";
import type { Prepare, Trial } from "@/api/client";
import { sidesSay } from "@/core/words";
import { Link, useParams } from "@/ui/routing";
import { SilkSquare } from "@/ui/SilkSquare";
import { Unopened } from "@/ui/Unopened";
import { useTrial } from "@/ui/useTrial";
import { minutesSaid, moment } from "./clock";
import styles from "./Paper.module.css";
import { RecipeBody } from "./RecipesCard";
import { usePrepare } from "./usePrepare";

/** The sheets for the bench: recipes, order of work with cautions, and the bench map. */
export function PaperPage() {
	const { trialId = "" } = useParams();
	const told = useTrial(trialId);
	const { query } = usePrepare(trialId);
	const trial = told.data;
	const found = query.data;
	if (!trial || !found) return <Unopened of={[told, query]} shape="list" />;
	return (
		<div className={styles.paper}>
			<nav className="no-print" aria-label="Back">
				<Link to={`/trials/${trial.id}/prepare`}>Back to Prepare</Link>
				<Button size="sm" onClick={() => window.print()}>
					Print sheets
				</Button>
			</nav>
			<section className={styles.sheet} aria-label="Order of work">
				<Head trial={trial} title="Order of work" />
				<ol className={styles.order}>
					{found.order.map((o) => (
						<li key={o.key}>
							<span className={styles.box} aria-hidden />
							<span dir="auto">
								{o.says} {o.why && <em>({o.why})</em>}
							</span>
						</li>
					))}
				</ol>
				<ClockTable trial={trial} found={found} />
				{found.cautions.length > 0 && (
					<ul className={styles.cautions} aria-label="Cautions">
						{found.cautions.map((c) => (
							<li key={c.code}>{c.says}</li>
						))}
					</ul>
				)}
			</section>
			{found.recipes.length > 0 && (
				<section className={styles.sheet} aria-label="Recipes">
					<Head trial={trial} title="Recipes" />
					{found.recipes.map((r) => (
						<div key={r.id} className={styles.recipe}>
							<RecipeBody trial={trial} recipe={r} />
						</div>
					))}
				</section>
			)}
			{trial.plan.blind && !trial.sealed && <WhoGetsWhat trial={trial} found={found} />}
			<section className={styles.sheet} aria-label="Tray plan">
				<Head trial={trial} title="Tray plan" />
				<BenchPlan trial={trial} found={found} />
			</section>
		</div>
	);
}

function Head({ trial, title }: { trial: Trial; title: string }) {
	return (
		<header className={styles.head}>
			<h1>{title}</h1>
			<p dir="auto">
				{trial.plan.question} {trial.invented && "(invented demo data)"}
			</p>
		</header>
	);
}

/** The key of a blind trial, for whoever treats; it goes before the first round. */
function WhoGetsWhat({ trial, found }: { trial: Trial; found: Prepare }) {
	return (
		<section className={styles.sheet} aria-label="Who gets what">
			<Head trial={trial} title="Who gets what" />
			<p>
				For the person who treats, not for the scorer. Put it away after day 0. From then on it is
				hidden here too.
			</p>
			{trial.plan.treatments.map((t, i) => (
				<div key={t.name} className={styles.key}>
					<SilkSquare id={t.silk} size={20} /> <strong dir="auto">{t.name}</strong>
					<p>
						{found.units
							.filter((u) => u.treatment === i)
							.map((u) => u.code)
							.join("  ")}
					</p>
				</div>
			))}
		</section>
	);
}

function ClockTable({ trial, found }: { trial: Trial; found: Prepare }) {
	if (found.clock.steps.length === 0) return null;
	const zone = trial.plan.time_zone;
	return (
		<table className={styles.table}>
			<caption>Soak schedule{found.clock.is_planned ? "" : " (no time set yet)"}</caption>
			<thead>
				<tr>
					<th scope="col">Treatment</th>
					<th scope="col">Step</th>
					<th scope="col">Start</th>
					<th scope="col">Stop</th>
					<th scope="col">Really</th>
				</tr>
			</thead>
			<tbody>
				{found.clock.steps.map((s) => (
					<tr key={s.key}>
						<th scope="row">{trial.plan.treatments[s.treatment]?.name}</th>
						<td>
							{s.name} {minutesSaid(s.minutes)}
						</td>
						<td>{found.clock.is_planned ? moment(s.start, zone) : "…"}</td>
						<td>{found.clock.is_planned ? moment(s.stop, zone) : "…"}</td>
						<td className={styles.blank} />
					</tr>
				))}
			</tbody>
		</table>
	);
}

/** Every tray from above as it stands: code, silk unless blind, and a box to tick. */
function BenchPlan({ trial, found }: { trial: Trial; found: Prepare }) {
	const trays = [...new Set(trial.bench.map((c) => c.tray))];
	const isBlind = trial.plan.blind;
	const place = new Map(found.units.map((u) => [u.place, u.code]));
	return (
		<>
			<p>{sidesSay(trial.plan.sides)}</p>
			{!isBlind && (
				<p className={styles.legend}>
					{trial.plan.treatments.map((t) => (
						<span key={t.name}>
							<SilkSquare id={t.silk} size={16} /> <span dir="auto">{t.name}</span>
						</span>
					))}
				</p>
			)}
			{trays.map((tray) => {
				const cells = trial.bench.filter((c) => c.tray === tray);
				const columns = Math.max(...cells.map((c) => c.col)) + 1;
				return (
					<Fragment key={tray}>
						{trays.length > 1 && <h2>{trial.plan.tray_names[tray] || `Tray ${tray + 1}`}</h2>}
						<div
							className={styles.map}
							style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
						>
							{cells.map((c) => {
								const arm = c.treatment === null ? undefined : trial.plan.treatments[c.treatment];
								const label = c.border
									? "border"
									: c.spare
										? "spare"
										: (place.get(c.code) ?? c.code);
								return (
									<div
										key={c.code}
										className={styles.cell}
										style={{ gridColumn: c.col + 1, gridRow: c.row + 1 }}
									>
										{arm && !isBlind && <SilkSquare id={arm.silk} size={16} />}
										<span>{label}</span>
										{c.turn !== null && <small>{c.turn}</small>}
									</div>
								);
							})}
						</div>
					</Fragment>
				);
			})}
			<p className={styles.small}>The small number is the order of filling</p>
		</>
	);
}
