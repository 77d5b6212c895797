import { Button } from "@mantine/core";
import { useState } from "react";
import type { Trial } from "@/api/client";
import { Card } from "@/ui/Card";
import { NumberField } from "@/ui/NumberField";
import { Link } from "@/ui/routing";
import { GardenInvite } from "./GardenInvite";
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
					the seed of this trial and shown only when the pots are filled. No name or place is asked
					for. Gardens join by a link to this server, or get a page that is one file, works without
					a signal and gives back a small file. Files are read under{" "}
					<Link to="/trials/gardens">Returns of many gardens</Link>.
				</p>
				<NumberField
					label="Gardens, at most"
					maw={220}
					isWhole
					min={1}
					max={MOST_GARDENS}
					value={gardens}
					onChange={(n) => n !== null && setGardens(n)}
				/>
				<GardenInvite trialId={trial.id} gardens={gardens} />
				<div className={styles.packWays}>
					<Button component="a" variant="default" href={address("page")} download>
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
