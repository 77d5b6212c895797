import { useState } from "react";
import styles from "@/ui/finish/Finish.module.css";
import { ProblemAlert } from "@/ui/ProblemAlert";

/** The report and the open files of a trial. */
export function TakeOut({ trialId }: { trialId: string }) {
	const [error, setError] = useState<Error | null>(null);
	const at = `/api/trials/${trialId}`;
	const png = () => pictureOf(`${at}/lanes.svg`, "lanes.png").catch(setError);
	return (
		<section className={`${styles.takeOut} no-print`} aria-label="Take out">
			<a href={`${at}/report.html`} target="_blank" rel="noreferrer">
				Report to read and print
			</a>
			<a href={`${at}/report.pdf?paper=a4`} download>
				Report as PDF, A4
			</a>
			<a href={`${at}/report.pdf?paper=letter`} download>
				Report as PDF, US Letter
			</a>
			<a href={`${at}/lanes.svg`} download>
				Lanes as SVG
			</a>
			<button type="button" className={styles.link} onClick={png}>
				Lanes as PNG
			</button>
			<a href={`${at}/table.csv`} download>
				Take the results out as a table (CSV)
			</a>
			<a href={`${at}/trial.json`} download>
				Take the whole trial out as one file (JSON)
			</a>
			<ProblemAlert error={error} />
		</section>
	);
}

/** Turns an SVG of the shed into a PNG, two pixels a point, and hands it to the browser to keep. */
async function pictureOf(address: string, name: string): Promise<void> {
	const answer = await fetch(address);
	if (!answer.ok) throw new Error("The lanes could not be drawn just now: try again.");
	const svg = new Blob([await answer.text()], { type: "image/svg+xml" });
	const image = new Image();
	const url = URL.createObjectURL(svg);
	image.src = url;
	await image.decode();
	const canvas = document.createElement("canvas");
	canvas.width = 2 * image.naturalWidth;
	canvas.height = 2 * image.naturalHeight;
	const pen = canvas.getContext("2d");
	if (!pen) throw new Error("This browser cannot make a picture: take the SVG.");
	pen.fillStyle = "#fff";
	pen.fillRect(0, 0, canvas.width, canvas.height);
	pen.drawImage(image, 0, 0, canvas.width, canvas.height);
	URL.revokeObjectURL(url);
	const link = document.createElement("a");
	link.href = canvas.toDataURL("image/png");
	link.download = name;
	link.click();
}
