import { UnstyledButton } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, body, type Schemas, type Trial } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { waitingIn } from "@/api/outbox";
import { dateOfDay } from "@/core/text";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { RoundsNav } from "@/ui/RoundsNav";
import { Link, useParams } from "@/ui/routing";
import { Sheet } from "@/ui/Sheet";
import { SilkSquare } from "@/ui/SilkSquare";
import { TrialHeader } from "@/ui/TrialHeader";
import { faultOf, Unopened } from "@/ui/Unopened";
import { useOutbox } from "@/ui/useOutbox";
import { useTrial } from "@/ui/useTrial";
import styles from "./Photos.module.css";
import { PhotoView } from "./PhotoView";

type Photo = Schemas["PhotoOut"];

/** Photos of one age side by side, treatment by treatment, so that like is compared with like. */
export function PhotosPage() {
	const { trialId = "" } = useParams();
	const trial = useTrial(trialId);
	const path = { trial_id: trialId };
	const photos = useQuery({
		queryKey: ofTrial(trialId, "photos"),
		queryFn: () => body(api.GET("/api/trials/{trial_id}/photos", { params: { path } })),
		staleTime: 0,
	});
	const waiting = waitingIn(useOutbox());
	// marks are written through the outbox: what the server says of them is asked for once they are sent
	// biome-ignore lint/correctness/useExhaustiveDependencies: asked again whenever the number changes
	useEffect(() => void photos.refetch(), [waiting]);
	if (!trial.data) return <Unopened of={[trial]} shape="cards" headed />;
	const days = [...new Set((photos.data ?? []).map((p) => p.entry.day))];
	return (
		<>
			<TrialHeader trial={trial.data} compact />
			<RoundsNav trialId={trialId} />
			<ProblemAlert error={faultOf(photos)} />
			<div className={styles.page}>
				{photos.data?.length === 0 && (
					<Card title="No photos yet">
						<p>Take photos in a round. Here you see each day's photos side by side.</p>
					</Card>
				)}
				{days.map((day) => (
					<Strip
						key={day}
						trial={trial.data}
						day={day}
						photos={(photos.data ?? []).filter((p) => p.entry.day === day)}
					/>
				))}
			</div>
		</>
	);
}

interface StripProps {
	trial: Trial;
	day: number;
	photos: Photo[];
}

function Strip({ trial, day, photos }: StripProps) {
	const [openId, setOpen] = useState<string | null>(null);
	const open = photos.find((p) => p.entry.id === openId) ?? null;
	const at = trial.started_on ? `, ${dateOfDay(trial.started_on, day)}` : "";
	return (
		<Card title={`Day ${day}${at}`}>
			<ul className={styles.strip}>
				{photos.map((p) => (
					<li key={p.entry.id}>
						<UnstyledButton onClick={() => setOpen(p.entry.id)}>
							<img src={`${address(trial, p)}?thumb=true`} alt="" loading="lazy" />
							<Caption photo={p} trial={trial} />
						</UnstyledButton>
					</li>
				))}
			</ul>
			<Sheet
				opened={open !== null}
				onClose={() => setOpen(null)}
				title={open ? said(open, trial) : ""}
				size="xl"
			>
				{open && (
					<>
						<PhotoView
							trialId={trial.id}
							photo={open}
							src={address(trial, open)}
							alt={said(open, trial)}
						/>
						<p dir="auto">
							{open.entry.text} <span className="muted">{open.entry.who}</span>
						</p>
						<p>
							<Link to={`/trials/${trial.id}/rounds/${day}`}>The round of day {day}</Link>
						</p>
					</>
				)}
			</Sheet>
		</Card>
	);
}

function Caption({ photo: p, trial }: { photo: Photo; trial: Trial }) {
	const arm = p.treatment === null ? undefined : trial.plan.treatments[p.treatment];
	return (
		<span className={styles.caption}>
			{arm && <SilkSquare id={arm.silk} size={16} />}
			<span dir="auto">
				{arm ? `${arm.name}, ` : ""}
				{p.unit || "tray"}
				<span className="visually-hidden">, day {p.entry.day}: open the photo</span>
			</span>
		</span>
	);
}

function said(p: Photo, trial: Trial): string {
	const arm = p.treatment === null ? undefined : trial.plan.treatments[p.treatment];
	return `the photo of ${p.unit || "the tray"}${arm ? `, ${arm.name}` : ""}, day ${p.entry.day}`;
}

const address = (trial: Trial, p: Photo) => `/api/trials/${trial.id}/photos/${p.entry.what}`;
