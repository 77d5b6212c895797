import { Button } from "@mantine/core";
import { linear } from "@/core/scale";
import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import { Waiting } from "@/ui/Waiting";
import styles from "./FormBook.module.css";
import { type PlantBook, usePlantBook } from "./useFormBook";

/** How the controls of a plant did over the year, and the way to its page. */
export function YearCard({ plant }: { plant: string }) {
	const book = usePlantBook(plant);
	if (book.error) return <ProblemAlert error={book.error} />;
	if (!book.data) return <Waiting shape="cards" />;
	return (
		<Card title={`${plant}, untreated, over the year`} aside="controls by the month they began in">
			<YearDrawing book={book.data} />
			<p>{book.data.usual_says || "No finished control of this plant yet."}</p>
			<Button
				component={Link}
				mt="sm"
				to={`/form-book/plant?plant=${encodeURIComponent(plant)}`}
				variant="default"
			>
				Best known way with {plant.toLowerCase()}
			</Button>
		</Card>
	);
}

const MONTHS = "JFMAMJJASOND";
const WIDTH = 400;
const HEIGHT = 150;
const LEFT = 44;
const BOTTOM = 24;

/** Twelve months, the rate of the controls begun in each with its 95 % limits. */
export function YearDrawing({ book }: { book: PlantBook }) {
	const x = linear([0, 11], [LEFT + 14, WIDTH - 14]);
	const y = linear([0, 100], [HEIGHT - BOTTOM, 8]);
	const said = book.months
		.map(({ month, rate: r }) => `${month}: ${r.struck} of ${r.n} in ${count(r.trials, "trial")}`)
		.join("; ");
	return (
		<svg
			viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
			role="img"
			className={styles.year}
			aria-label={`Rate of the controls by month. ${said || "None yet."}`}
		>
			{[0, 50, 100].map((p) => (
				<g key={p}>
					<line x1={LEFT} x2={WIDTH} y1={y(p)} y2={y(p)} stroke="var(--rule)" />
					<text x={LEFT - 6} y={y(p) + 4} textAnchor="end">
						{p} %
					</text>
				</g>
			))}
			{[...MONTHS].map((m, i) => (
				<text key={i} x={x(i)} y={HEIGHT - 6} textAnchor="middle">
					{m}
				</text>
			))}
			{book.months.map(({ month, rate: r }) => (
				<g key={month}>
					<line
						x1={x(month - 1)}
						x2={x(month - 1)}
						y1={y(r.low)}
						y2={y(r.high)}
						stroke="var(--ink)"
						strokeWidth="2"
					/>
					<circle
						cx={x(month - 1)}
						cy={y(r.percent)}
						r="5"
						fill="var(--seed)"
						stroke="var(--ink)"
					/>
				</g>
			))}
		</svg>
	);
}
