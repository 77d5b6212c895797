import { Button } from "@mantine/core";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import styles from "./FormBook.module.css";

/** The title of a page of the book, what prints it, and the way to the trials it rests on. */
export function BookHead({ title, trials }: { title: string; trials: Record<string, string> }) {
	return (
		<div className="page-head">
			<h1 dir="auto">{title}</h1>
			<div className={`${styles.actions} no-print`}>
				<Button variant="default" onClick={() => window.print()}>
					Print
				</Button>
				<Button component={Link} variant="default" to={`/form-book?${new URLSearchParams(trials)}`}>
					All its trials
				</Button>
			</div>
		</div>
	);
}

/** Why there is no such page, and the way back to the book. */
export function NotInTheBook({ error }: { error: unknown }) {
	return (
		<>
			<h1>Form book</h1>
			<ProblemAlert error={error} />
			<Button component={Link} variant="default" to="/form-book">
				All trials of the form book
			</Button>
		</>
	);
}
