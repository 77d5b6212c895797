import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useState } from "react";
import { count, monthOf } from "@/core/text";
import { Card } from "@/ui/Card";
import { ForestMark } from "@/ui/ForestMark";
import { Link } from "@/ui/routing";
import { Unopened } from "@/ui/Unopened";
import { BookFile } from "./BookFile";
import styles from "./FormBook.module.css";
import { treatmentPage } from "./RecordResults";
import {
	FILTERS,
	type Filter,
	type FormBook,
	type FormLine,
	PAGE,
	useFormBook,
} from "./useFormBook";
import { YearCard } from "./YearCard";

const LABELS: Record<Filter, { label: string; any: string; of: keyof FormBook }> = {
	plant: { label: "Plant", any: "any plant", of: "plants" },
	method: { label: "What was compared", any: "anything", of: "methods" },
	quarter: { label: "Begun in", any: "any season", of: "quarters" },
	year: { label: "Year", any: "all years", of: "years" },
	verdict: { label: "Verdict", any: "any verdict", of: "verdicts" },
	state: { label: "State", any: "any state", of: "states" },
};
const MORE = FILTERS.filter((name) => name !== "plant");
const SORTS = ["newest", "oldest", "plant", "largest difference", "most certain"];

/** Everything tried here, whatever came of it: searched, filtered, each with its result at a glance. */
export function FormBookPage() {
	const { query, ask, found } = useFormBook();
	const [text, setText] = useState(query.text);
	const book = found.data;
	const clear = () => {
		setText("");
		ask(Object.fromEntries(["text", ...FILTERS].map((f) => [f, ""])));
	};
	const isFiltered = query.text !== "" || FILTERS.some((f) => query[f] !== "");
	if (!book)
		return (
			<>
				<Unopened of={[found]} shape="list" />
				{found.error && isFiltered && <Button onClick={clear}>Clear the search</Button>}
			</>
		);
	const field = (name: Filter) => (
		<NativeSelect
			key={name}
			label={LABELS[name].label}
			value={query[name]}
			onChange={(e) => ask({ [name]: e.currentTarget.value })}
			data={[
				{ value: "", label: LABELS[name].any },
				...(book[LABELS[name].of] as FormBook["plants"]).map((f) => ({
					value: f.value,
					label: `${f.label} (${f.n})`,
				})),
			]}
		/>
	);
	const tableQuery = new URLSearchParams(
		["text", ...FILTERS].flatMap((name): [string, string][] => {
			const value = query[name as Filter | "text"];
			return value ? [[name, value]] : [];
		}),
	);
	return (
		<>
			<div className="page-head">
				<h1>Form book</h1>
				<p className="muted">
					everything tried here: {count(book.all, "trial")}
					{book.unfinished > 0 && `, ${book.unfinished} never finished`}
				</p>
				<Button component={Link} to="/trials/together" variant="default">
					Put runs together
				</Button>
			</div>
			<search className={styles.search}>
				<TextInput
					className={styles.text}
					label="Search"
					placeholder="plant, treatment, word of the question"
					value={text}
					onChange={(e) => {
						setText(e.currentTarget.value);
						ask({ text: e.currentTarget.value });
					}}
				/>
				{field("plant")}
				<NativeSelect
					label="Order"
					value={query.sort}
					data={SORTS}
					onChange={(e) => ask({ sort: e.currentTarget.value })}
				/>
			</search>
			<details className={styles.filters} open={MORE.some((name) => query[name] !== "")}>
				<summary>More filters</summary>
				<div>{MORE.map(field)}</div>
			</details>
			{book.waiting > 0 && (
				<p role="status" className={styles.waiting}>
					{count(book.waiting, "trial")} still to be read; the list completes itself.
				</p>
			)}
			<div className={styles.columns}>
				<div>
					<p role="status" className="muted">
						{isFiltered && `${count(book.found, "trial")} found. `}
						Marks show the difference in how many rooted or came up, in points; the line is its 95 %
						interval.
					</p>
					{book.found === 0 ? (
						<Nothing isEmpty={book.all === 0} onClear={clear} />
					) : (
						<ul className={styles.lines}>
							{book.lines.map((x) => (
								<Line key={x.trial} line={x} />
							))}
						</ul>
					)}
					{book.found > 0 && (
						<p>
							<a href={`/api/form-book/table.csv?${tableQuery}`} download>
								Export as CSV
							</a>{" "}
							or{" "}
							<a href={`/api/form-book/table.xlsx?${tableQuery}`} download>
								XLSX
							</a>{" "}
							(
							<a href="/api/form-book/columns.csv" download>
								what its columns mean
							</a>
							)
						</p>
					)}
					{book.found > book.lines.length && (
						<Button variant="default" onClick={() => ask({ most: String(query.most + PAGE) })}>
							Show {Math.min(PAGE, book.found - book.lines.length)} more
						</Button>
					)}
					<BookFile />
				</div>
				<aside className={styles.side}>
					{query.plant ? <YearCard plant={query.plant} /> : <Plants book={book} ask={ask} />}
					{book.unfinished > 0 && query.state !== "abandoned" && (
						<Card title="Open loops" aside="begun and never finished">
							<p>
								A trial without a result counts, too: say what became of it, or close it with a last
								round.
							</p>
							<Button variant="default" mt="sm" onClick={() => ask({ state: "abandoned" })}>
								Show {count(book.unfinished, "open trial")}
							</Button>
						</Card>
					)}
				</aside>
			</div>
		</>
	);
}

function Line({ line: x }: { line: FormLine }) {
	const part = x.state === "draft" ? "plan" : x.state === "blind" ? "rounds" : "finish";
	const about = [x.began && monthOf(x.began), x.says].filter(Boolean);
	return (
		<li className={styles.line}>
			<div className={styles.what}>
				<h2 dir="auto">
					<Link to={x.is_table ? `/trials/tables/${x.trial}` : `/trials/${x.trial}/${part}`}>
						{x.question}
					</Link>
				</h2>
				<p className="muted" dir="auto">
					{x.plant && `${x.plant} · `}
					{x.best && (
						<>
							<Link to={treatmentPage(x.best.name)}>{x.best.name}</Link> ·{" "}
						</>
					)}
					{about.join(" · ")}
					{x.repeats && " · a repeat"}
					{x.invented && " · invented"}
				</p>
			</div>
			{x.best && <ForestMark {...x.best} />}
			<span className={styles.verdict}>
				{x.best?.grade_words ?? (x.state === "abandoned" ? "no result" : "")}
			</span>
		</li>
	);
}

function Plants({ book, ask }: { book: FormBook; ask: (change: { plant: string }) => void }) {
	if (book.plants.length === 0) return null;
	return (
		<Card title="By plant" aside="its usual rate, its year, what has been shown">
			<ul className={styles.plants}>
				{book.plants.slice(0, 24).map((p) => (
					<li key={p.value}>
						<Button variant="default" onClick={() => ask({ plant: p.value })}>
							{p.label} ({p.n})
						</Button>
					</li>
				))}
			</ul>
		</Card>
	);
}

function Nothing({ isEmpty, onClear }: { isEmpty: boolean; onClear: () => void }) {
	if (isEmpty)
		return (
			<p>
				Nothing has been tried yet. <Link to="/trials/new">Plan a trial</Link>, and it is listed
				here from its first day, finished or not.
			</p>
		);
	return (
		<p>
			No trial fits all of that.{" "}
			<Button variant="default" onClick={onClear}>
				Clear search and filters
			</Button>
		</p>
	);
}
