import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { Chart, Feet, Rungs } from "@/ui/chart/Chart";
import { linear } from "@/ui/chart/scale";
import { Link, useSearchParams } from "@/ui/routing";
import { Waiting } from "@/ui/Waiting";
import { BookHead, NotInTheBook } from "./BookHead";
import styles from "./FormBook.module.css";
import { RecordResults, treatmentPage } from "./RecordResults";
import { type PlantBook, usePlantBook } from "./useFormBook";
import { YearDrawing } from "./YearCard";

type Record = PlantBook["shown"][number];

/** The page one would hand to a colleague: what has been shown for a plant, how surely, what is open. */
export function PlantPage() {
	const [asked] = useSearchParams();
	const plant = asked.get("plant") ?? "";
	const { data: book, error } = usePlantBook(plant);
	if (!book) return error ? <NotInTheBook error={error} /> : <Waiting shape="cards" />;
	const verb = book.kind === "seed" ? "come up" : "root";
	return (
		<>
			<BookHead title={`${book.plant}: the best known way`} trials={{ plant: book.plant }} />
			<p className={styles.lead}>
				From {count(book.trials, "trial")} here
				{book.unfinished > 0 && `, ${book.unfinished} of them never finished`}. Each result is
				against its own control, in its own trial. Where a treatment had the same control each time,
				its differences are put together.
			</p>
			<div className={styles.columns}>
				<div className={styles.side}>
					<Records
						title="Shown here"
						none="Nothing has been shown to help yet."
						records={book.shown}
					/>
					<Records
						title="Shown to do worse"
						none="Nothing has been shown to do worse."
						records={book.against}
					/>
					<Records
						title="Tried, and still open"
						none="Nothing is open."
						records={book.open}
						aside="too close to call, equal, or trials that contradict each other: no proof either way"
					/>
					{book.undecidable.length > 0 && (
						<Records
							title="Tried in a way that could not tell"
							none=""
							records={book.undecidable}
							aside="too few units, one container per treatment, no control"
						/>
					)}
					<Card title="Nobody here has tried">
						{book.untried.length === 0 ? (
							<p>Every usual kind of comparison has been tried.</p>
						) : (
							<ul>
								{book.untried.map((s) => (
									<li key={s}>{s}</li>
								))}
							</ul>
						)}
					</Card>
				</div>
				<div className={styles.side}>
					<Card title="Untreated, over the year" aside="controls by the month they began in">
						<YearDrawing book={book} />
						<p>{book.usual_says || "No finished control of this plant yet."}</p>
						{book.half_day !== null && (
							<p>
								Half of a control had {verb === "root" ? "rooted" : "come up"} by day{" "}
								{Math.round(book.half_day)} in the middle trial of those in which half did.
							</p>
						)}
					</Card>
					{book.guessing && <Guesses guessing={book.guessing} />}
				</div>
			</div>
		</>
	);
}

interface RecordsProps {
	title: string;
	none: string;
	records: Record[];
	aside?: string;
}

function Records({ title, none, records, aside }: RecordsProps) {
	return (
		<Card title={title} aside={aside}>
			{records.length === 0 && <p className="muted">{none}</p>}
			{records.map((r) => (
				<section key={r.treatment} className={styles.record} aria-label={r.treatment}>
					<h3 dir="auto">
						<Link to={treatmentPage(r.treatment)}>{r.treatment}</Link>:{" "}
						<span className={styles.verdict}>{r.grade_words}</span>
					</h3>
					<RecordResults results={r.results} />
				</section>
			))}
		</Card>
	);
}

const SIZE = 200;

/** Predictions against what came: on the diagonal they were right. */
function Guesses({ guessing }: { guessing: NonNullable<PlantBook["guessing"]> }) {
	const at = linear([0, 100], [34, SIZE - 10]);
	const up = linear([0, 100], [SIZE - 26, 10]);
	const said = guessing.bands
		.map((b) => `${Math.round(b.said)} % said, ${Math.round(b.came)} % came, ${b.n}`)
		.join("; ");
	return (
		<Card title="How well was it guessed" aside="predictions sealed before the start">
			<p>{guessing.says}</p>
			<Chart
				width={SIZE}
				height={SIZE}
				className={styles.guesses}
				says={`Predicted against what came. ${said}`}
			>
				<line
					x1={at(0)}
					y1={up(0)}
					x2={at(100)}
					y2={up(100)}
					stroke="var(--rule)"
					strokeWidth="2"
				/>
				<Rungs bare at={[0, 50, 100]} y={up} from={36} to={SIZE} says={String} />
				<Feet at={[0, 50, 100]} x={at} y={SIZE - 12} says={String} />
				<text x={SIZE / 2} y={SIZE - 1} textAnchor="middle">
					predicted, %
				</text>
				{guessing.bands.map((b) => (
					<circle
						key={b.said}
						cx={at(b.said)}
						cy={up(b.came)}
						r={4 + Math.min(6, b.n)}
						fill="var(--seed)"
						fillOpacity="0.8"
						stroke="var(--ink)"
					/>
				))}
			</Chart>
		</Card>
	);
}
