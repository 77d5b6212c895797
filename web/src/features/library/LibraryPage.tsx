import { TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, body, type Reference, type Schemas } from "@/api/client";
import { key } from "@/api/keys";
import { Card } from "@/ui/Card";
import { useReference } from "@/ui/reference";
import { Link, useLocation } from "@/ui/routing";
import { StageDrawing } from "@/ui/StageDrawing";
import { Unopened } from "@/ui/Unopened";
import styles from "./Library.module.css";
import { finds, type Page, within } from "./library";

/** The handbook: tables, stages, methods and cautions, each with its source and how sure it is. */
export function LibraryPage() {
	const book = useQuery({
		queryKey: key("handbook"),
		queryFn: () => body(api.GET("/api/handbook")),
	});
	const reference = useReference();
	const [text, setText] = useState("");
	const { hash } = useLocation();
	const isThere = Boolean(book.data && reference);
	useEffect(() => {
		if (isThere && hash) document.getElementById(hash.slice(1))?.scrollIntoView();
	}, [isThere, hash]);
	if (!book.data || !reference) return <Unopened of={[book]} shape="cards" />;
	const pages = within(book.data.pages, text);
	const cautions = book.data.cautions.filter((c) => finds(text, c));
	const methods = reference.methods.filter((m) => finds(text, m.name, m.says, m.source));
	const stages = text ? [] : reference.ladders.filter((l) => l.outcome === "usual");
	const parts = [
		...pages.map((p) => ({ id: p.id, title: p.title })),
		...(stages.length ? [{ id: "stages", title: "Stages" }] : []),
		...(methods.length ? [{ id: "methods", title: "Methods" }] : []),
		...(cautions.length ? [{ id: "cautions", title: "Cautions" }] : []),
	];
	return (
		<>
			<div className="page-head">
				<h1>Library</h1>
				<p className="muted">what is known, from whom, and how surely</p>
				<Link to="/library/trainer">Scorer trainer</Link>
				<Link to="/glossary">Glossary</Link>
			</div>
			<search>
				<TextInput
					label="Search"
					placeholder="soak, seaweed, hardwood, peat, median …"
					value={text}
					onChange={(e) => setText(e.currentTarget.value)}
				/>
			</search>
			<p role="status" className="visually-hidden">
				{parts.length} parts hold what is searched for
			</p>
			{parts.length === 0 && (
				<p className={styles.none}>
					Nothing in the library holds “{text.trim()}”. Try one word, or look in the{" "}
					<Link to="/glossary">glossary</Link>.
				</p>
			)}
			<nav aria-label="Parts of the library" className={`${styles.parts} no-print`}>
				{parts.map((p) => (
					<a key={p.id} href={`#${p.id}`}>
						{p.title}
					</a>
				))}
			</nav>
			<div className={styles.pages}>
				{pages.map((p) => (
					<PageCard key={p.id} page={p} />
				))}
				{stages.length > 0 && <Stages ladders={stages} />}
				{methods.length > 0 && (
					<section id="methods">
						<Card title="Methods" aside="how results are worked out, and when to believe them">
							{methods.map((m) => (
								<div key={m.id} className={styles.method}>
									<h3>{m.name}</h3>
									<p>{m.says}</p>
									{m.sum && <p className={styles.sum}>{m.sum}</p>}
									<Source source={m.source} />
								</div>
							))}
						</Card>
					</section>
				)}
				{cautions.length > 0 && (
					<section id="cautions">
						<Card title="Cautions" aside="label, local rules and licensed practice come first">
							<ul>
								{cautions.map((c) => (
									<li key={c}>{c}</li>
								))}
							</ul>
						</Card>
					</section>
				)}
			</div>
		</>
	);
}

function PageCard({ page: p }: { page: Page }) {
	return (
		<section id={p.id}>
			<Card title={p.title}>
				<p className="muted">{p.about}</p>
				{p.tables.map((t) => (
					<TableOf key={t.title} table={t} />
				))}
				{p.facts.length > 0 && (
					<ul className={styles.facts}>
						{p.facts.map((f) => (
							<li key={f.says}>
								{f.says} <Source source={f.source} sure={f.sure} />
							</li>
						))}
					</ul>
				)}
			</Card>
		</section>
	);
}

function TableOf({ table: t }: { table: Schemas["HandbookTable"] }) {
	const hasOwn = t.own.some((o) => o !== "");
	return (
		<>
			<h3>{t.title}</h3>
			{/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it */}
			<section className={styles.scroll} tabIndex={0} aria-label={t.title}>
				<table className={styles.table}>
					<thead>
						<tr>
							{t.heads.map((h) => (
								<th key={h} scope="col">
									{h}
								</th>
							))}
							{hasOwn && <th scope="col">your own controls</th>}
						</tr>
					</thead>
					<tbody>
						{t.rows.map((row, i) => (
							<tr key={row[0]}>
								<th scope="row">{row[0]}</th>
								{row.slice(1).map((cell, k) => (
									<td key={t.heads[k + 1]}>{cell}</td>
								))}
								{hasOwn && <td>{t.own[i] || "none yet"}</td>}
							</tr>
						))}
					</tbody>
				</table>
			</section>
			<p>
				<Source source={t.source} sure={t.sure} />
			</p>
		</>
	);
}

function Stages({ ladders }: { ladders: Reference["ladders"] }) {
	return (
		<section id="stages">
			<Card title="Stages" aside="what to look for, drawn as on the keys of a round">
				{ladders.map((l) => (
					<div key={l.kind}>
						<h3>{l.kind === "seed" ? "Seed" : "Cuttings"}</h3>
						<ul className={styles.stages}>
							{l.stages.map((s) => (
								<li key={s.name}>
									<StageDrawing name={s.drawing} size={52} />
									<span>
										<strong>{s.name}</strong>
										<br />
										{s.look_for}
									</span>
								</li>
							))}
						</ul>
					</div>
				))}
			</Card>
		</section>
	);
}

/** Where a fact comes from, and how sure it is. */
function Source({ source, sure }: { source: string; sure?: "high" | "medium" }) {
	return (
		<small className={styles.source}>
			{source}
			{sure === "medium" && "; the right order, the exact figure varies"}
		</small>
	);
}
