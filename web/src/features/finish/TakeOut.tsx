import { UnstyledButton } from "@mantine/core";
import { useState } from "react";
import styles from "@/ui/finish/Finish.module.css";
import { PhoneFold } from "@/ui/PhoneFold";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { keepPng } from "@/ui/picture";

/** The report and the open files of a trial. */
export function TakeOut({ trialId }: { trialId: string }) {
	const [error, setError] = useState<Error | null>(null);
	const at = `/api/trials/${trialId}`;
	const png = () => lanesAsPng(`${at}/lanes.svg`).catch(setError);
	return (
		<PhoneFold title="Report and export">
			<section className={styles.takeOut} aria-label="Export">
				<a href={`${at}/report.html`} target="_blank" rel="noreferrer">
					Report (web page)
				</a>
				<a href={`${at}/report.pdf?paper=a4`} download>
					Report, PDF A4
				</a>
				<a href={`${at}/report.pdf?paper=letter`} download>
					Report, PDF US Letter
				</a>
				<a href={`${at}/lanes.svg`} download>
					Lanes, SVG
				</a>
				<UnstyledButton className={styles.link} onClick={png}>
					Lanes, PNG
				</UnstyledButton>
				<a href={`${at}/table.csv`} download>
					Export results as CSV
				</a>
				<a href={`${at}/trial.json`} download>
					Export trial (JSON)
				</a>
				<ProblemAlert error={error} />
			</section>
		</PhoneFold>
	);
}

async function lanesAsPng(address: string): Promise<void> {
	const answer = await fetch(address);
	if (!answer.ok) throw new Error("The lanes could not be drawn just now: try again.");
	await keepPng(await answer.text(), "lanes");
}
