import { Button } from "@mantine/core";
import { useState } from "react";
import type { Trial } from "@/api/client";
import { Card } from "@/ui/Card";
import { NumberField } from "@/ui/NumberField";
import { Link } from "@/ui/routing";
import styles from "./Plan.module.css";

const MOST_ARMS = 6;
const MOST_GARDENS = 500;

/** The plan for many gardens: a page for their phones, sheets on paper, and the way back in. */
export function GardenPack({ trial }: { trial: Trial }) {
	const [gardens, setGardens] = useState(20);
	const arms = trial.plan.treatments.length;
	if (trial.sealed || arms < 2 || arms > MOST_ARMS) return null;
	const address = (form: string) => `/api/gardens/pack/${trial.id}?form=${form}&gardens=${gardens}`;
	return (
		<Card
			className={styles.pack}
			title="Many gardens"
			aside="one pot of each treatment in every garden"
		>
			<details>
				<summary>Invite gardens to this trial</summary>
				<p>
					Each garden makes up {arms} pots, one of each treatment; which pot gets what is drawn from
					the seed of this trial and shown only when the pots are filled. The page is one file: send
					it by mail or message. It works without a signal, asks for no name or place, and gives
					back a small file, which is read under{" "}
					<Link to="/trials/gardens">Returns of many gardens</Link>.
				</p>
				<NumberField
					label="Gardens, at most"
					isWhole
					min={1}
					max={MOST_GARDENS}
					value={gardens}
					onChange={(n) => n !== null && setGardens(n)}
				/>
				<div className={styles.packWays}>
					<Button component="a" href={address("page")} download>
						Page for their phones
					</Button>
					<Button component="a" variant="default" href={address("sheets")} target="_blank">
						Sheets to print
					</Button>
					<Button component="a" variant="default" href={address("file")} download>
						Pack as JSON
					</Button>
				</div>
			</details>
		</Card>
	);
}
