import type { Schemas } from "@/api/client";
import { monthOf, points } from "@/core/text";
import { ForestMark } from "@/ui/ForestMark";
import { Link } from "@/ui/routing";

/** What a treatment came to in each trial: its mark, its verdict, and the way to it. */
export function RecordResults({ results }: { results: Schemas["ResultOut"][] }) {
	return (
		<ul>
			{results.map((x) => (
				<li key={x.trial}>
					<ForestMark {...x} />
					<span>
						{x.is_table ? (
							<Link to={`/trials/tables/${x.trial}`}>{x.question}</Link>
						) : (
							<Link to={`/trials/${x.trial}/finish`}>{monthOf(x.began)}</Link>
						)}
						: {x.grade_words}
						{x.gap !== null && `, ${points(x.gap)}`}
						{x.low !== null && x.high !== null && (
							<span className="muted">
								{" "}
								({bare(x.low)} to {bare(x.high)})
							</span>
						)}
					</span>
				</li>
			))}
		</ul>
	);
}

const bare = (gap: number) => points(gap).replace(/ points?$/, "");

/** The page of a treatment, over every plant it was tried on. */
export const treatmentPage = (name: string) =>
	`/form-book/treatment?name=${encodeURIComponent(name)}`;
