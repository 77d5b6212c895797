import { BaselineCard } from "@/ui/BaselineCard";
import { Card } from "@/ui/Card";
import { Link, useParams } from "@/ui/routing";
import { TrialHeader } from "@/ui/TrialHeader";
import { Unopened } from "@/ui/Unopened";
import { useTrial } from "@/ui/useTrial";
import { ClockCard } from "./ClockCard";
import { LabelsCard } from "./LabelsCard";
import { OrderCard } from "./OrderCard";
import styles from "./Prepare.module.css";
import { RecipesCard } from "./RecipesCard";
import { SourcesCard } from "./SourcesCard";
import { StickCard } from "./StickCard";
import { usePrepare } from "./usePrepare";

/** Between the plan and the stuck tray: what it is made from, when, in which order, and day 0. */
export function PreparePage() {
	const { trialId = "" } = useParams();
	const told = useTrial(trialId);
	const log = usePrepare(trialId);
	const trial = told.data;
	const found = log.query.data;
	if (!trial || !found) return <Unopened of={[told, log.query]} shape="cards" headed />;
	return (
		<>
			<TrialHeader trial={trial} />
			<div className={styles.page}>
				<div className={styles.column}>
					<ClockCard trial={trial} found={found} log={log} />
					<RecipesCard trial={trial} found={found} />
					{trial.status === "draft" && <BaselineCard trial={trial} canEdit />}
					<StickCard trial={trial} found={found} log={log} />
				</div>
				<div className={styles.column}>
					<OrderCard trial={trial} found={found} />
					<SourcesCard trial={trial} found={found} log={log} />
					<LabelsCard trial={trial} />
					<Card title="Print" aside="for the workbench">
						<p>
							Recipes, order of work, cautions and the bench map, set for A4 or Letter.
							{trial.sealed && " Treatments are hidden, so the plan shows codes only."}
						</p>
						<p className={styles.links}>
							<Link to={`/trials/${trial.id}/paper`}>Print sheets</Link>
							<a href={`/api/trials/${trial.id}/calendar.ics`}>Export calendar (.ics)</a>
						</p>
					</Card>
				</div>
			</div>
		</>
	);
}
