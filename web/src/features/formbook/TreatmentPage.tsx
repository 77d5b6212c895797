import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { Link, useSearchParams } from "@/ui/routing";
import { Waiting } from "@/ui/Waiting";
import { BookHead, NotInTheBook } from "./BookHead";
import styles from "./FormBook.module.css";
import { RecordResults, treatmentPage } from "./RecordResults";
import { useTreatmentBook } from "./useFormBook";

/** A treatment over every plant it was tried on: counted by verdict, never summed. */
export function TreatmentPage() {
	const [asked] = useSearchParams();
	const { data: book, error } = useTreatmentBook(asked.get("name") ?? "");
	if (!book) return error ? <NotInTheBook error={error} /> : <Waiting shape="cards" />;
	return (
		<>
			<BookHead title={`${book.name}: what it did here`} trials={{ text: book.name }} />
			<p className={styles.lead}>{book.says}</p>
			<div className={styles.columns}>
				<div className={styles.side}>
					{book.plants.map(({ plant, record }) => (
						<Card key={plant} title={plant} aside={record.grade_words}>
							<section className={styles.record} aria-label={`${book.name} on ${plant}`}>
								<RecordResults results={record.results} />
							</section>
						</Card>
					))}
					{book.trials === 0 && (
						<p>
							A treatment has a page once a finished trial compares it. Go to{" "}
							<Link to="/form-book">the form book</Link>.
						</p>
					)}
				</div>
				<div className={styles.side}>
					<Card title="How to read this">
						<p>
							Each result is against its own control, in its own trial: season, mother plants and
							hands differ between trials. So they are counted here and not summed. Finished runs of
							one plan can be <Link to="/trials/together">put together</Link>.
						</p>
						<p className="muted">
							Trials that could tell and found nothing count as much as those that found something.
						</p>
					</Card>
					{book.alike.length > 0 && (
						<Card title="Much alike by name" aside="other strengths, as a rule">
							<ul>
								{book.alike.map((a) => (
									<li key={a.name}>
										<Link to={treatmentPage(a.name)} dir="auto">
											{a.name}
										</Link>{" "}
										<span className="muted">{count(a.trials, "trial")}</span>
									</li>
								))}
							</ul>
						</Card>
					)}
				</div>
			</div>
		</>
	);
}
