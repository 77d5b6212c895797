import { Button } from "@mantine/core";
import { useState } from "react";
import { count } from "@/core/text";
import { Link } from "@/ui/routing";
import { Unopened } from "@/ui/Unopened";
import { useTrials } from "@/ui/useTrial";
import { TablesReadIn } from "./TablesReadIn";
import styles from "./Today.module.css";
import { TrialRow } from "./TrialRow";

const PAGE = 100;

/** Every trial in the shed, the newest first. */
export function TrialsPage() {
	const trials = useTrials();
	const data = trials.data;
	const [shown, setShown] = useState(PAGE);
	if (!data) return <Unopened of={[trials]} shape="list" />;
	return (
		<>
			<div className={styles.top}>
				<h1>{data.length ? count(data.length, "trial") : "No trials yet"}</h1>
				<div className={styles.ways2}>
					<Button component={Link} to="/trials/together" variant="default">
						Put runs together
					</Button>
					<Button component={Link} to="/trials/read-in" variant="default">
						Import results
					</Button>
					<Button component={Link} to="/trials/new">
						New trial
					</Button>
				</div>
			</div>
			{data.length === 0 && (
				<p>
					A trial starts with a question. Plan one, or add the demo trials from{" "}
					<Link to="/">Today</Link>.
				</p>
			)}
			<ul className={styles.list}>
				{data.slice(0, shown).map((t) => (
					<TrialRow key={t.id} trial={t} under="h1" />
				))}
			</ul>
			{data.length > shown && (
				<Button variant="default" onClick={() => setShown(shown + PAGE)}>
					Show {Math.min(PAGE, data.length - shown)} more
				</Button>
			)}
			<TablesReadIn />
		</>
	);
}
