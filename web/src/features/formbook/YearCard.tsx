import { Button } from "@mantine/core";
import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { Chart, Feet, Range, Rungs } from "@/ui/chart/Chart";
import { linear } from "@/ui/chart/scale";
import { Link } from "@/ui/routing";
import { Unopened } from "@/ui/Unopened";
import { type PlantBook, usePlantBook } from "./useFormBook";

/** How the controls of a plant did over the year, and the way to its page. */
export function YearCard({ plant }: { plant: string }) {
	const book = usePlantBook(plant);
	if (!book.data) return <Unopened of={[book]} shape="cards" />;
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
		<Chart
			width={WIDTH}
			height={HEIGHT}
			says={`Rate of the controls by month. ${said || "None yet."}`}
		>
			<Rungs at={[0, 50, 100]} y={y} from={LEFT} to={WIDTH} says={(p) => `${p} %`} />
			<Feet at={[...MONTHS].map((_, i) => i)} x={x} y={HEIGHT - 6} says={(i) => MONTHS[i]} />
			{book.months.map(({ month, rate: r }) => (
				<g key={month}>
					<Range upright at={x(month - 1)} from={y(r.low)} to={y(r.high)} />
					<circle
						cx={x(month - 1)}
						cy={y(r.percent)}
						r="5"
						fill="var(--seed)"
						stroke="var(--ink)"
					/>
				</g>
			))}
		</Chart>
	);
}
