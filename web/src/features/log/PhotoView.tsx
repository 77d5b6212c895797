import { Button } from "@mantine/core";
import { useState } from "react";
import { type EntrySent, type Schemas, whoIsHere } from "@/api/client";
import { voidEntry } from "@/api/items";
import { keep, newId } from "@/api/outbox";
import type { Marks } from "@/core/traces";
import { MarkedPhoto, PhotoTracer } from "@/ui/PhotoMarks";
import styles from "@/ui/PhotoMarks.module.css";
import { ProblemAlert } from "@/ui/ProblemAlert";

type Photo = Schemas["PhotoOut"];
type Trace = Schemas["TraceOut"];

export interface PhotoViewProps {
	trialId: string;
	photo: Photo;
	src: string;
	alt: string;
}

const marksOf = (t: Trace) => JSON.parse(t.marks) as Marks;

/**
 * One photo with what was traced on it. Another person's marks stay hidden until asked for, so
 * that a second one can trace without having seen them.
 */
export function PhotoView({ trialId, photo, src, alt }: PhotoViewProps) {
	const me = whoIsHere() || "grower";
	const [tracing, setTracing] = useState<Trace | "new" | null>(null);
	const [asked, setAsked] = useState<string[]>([]);
	const [error, setError] = useState<unknown>(null);
	const { entry, traces } = photo;
	const shows = (t: Trace) => t.who === me || t.measure !== null || asked.includes(t.id);
	const shown = traces.filter(shows);
	const [seen, setSeen] = useState<string | null>(null);
	const current = shown.find((t) => t.id === seen) ?? shown.at(-1);
	/** Keeps an entry on this device; where it is refused, why is said and what was drawn stays. */
	const put = (item: EntrySent, then = () => {}) =>
		void keep(trialId, entry.day, { kind: "entry", item }).then(() => {
			setError(null);
			then();
		}, setError);
	const write = (what: Pick<EntrySent, "kind" | "what" | "values" | "text" | "corrects">) => {
		const item = {
			...what,
			id: newId(),
			scope: entry.scope,
			target: entry.target,
			seen_at: entry.seen_at,
			given: true,
			who: "",
			device: "",
		};
		put(item, () => {
			setAsked((ids) => [...ids, item.id]);
			setTracing(null);
		});
	};
	if (tracing) {
		const was = tracing === "new" ? undefined : tracing;
		return (
			<>
				<ProblemAlert error={error} />
				<PhotoTracer
					src={src}
					alt={alt}
					was={was && marksOf(was)}
					onCancel={() => setTracing(null)}
					onSave={(marks) =>
						write({
							kind: "traced",
							what: entry.id,
							values: {},
							text: JSON.stringify(marks),
							corrects: was?.id ?? null,
						})
					}
				/>
			</>
		);
	}
	return (
		<div className={styles.page}>
			<ProblemAlert error={error} />
			<MarkedPhoto src={src} alt={alt} marks={current ? marksOf(current) : null} />
			{entry.scope === "unit" ? (
				<div>
					<Button onClick={() => setTracing("new")}>Measure on this photo</Button>
				</div>
			) : (
				<p className="muted">Only the photo of one plant can be measured.</p>
			)}
			{traces.map((t) => (
				<section key={t.id} className={styles.trace} aria-label={`Marks by ${t.who || "a grower"}`}>
					{shows(t) ? (
						<>
							<p>
								<strong>{t.says}</strong> <span className="muted">{t.who}</span>
							</p>
							<div className={styles.tools}>
								{current?.id !== t.id && (
									<Button variant="default" onClick={() => setSeen(t.id)}>
										Show these marks
									</Button>
								)}
								<Button variant="default" onClick={() => setTracing(t)}>
									Correct the marks
								</Button>
								{t.measure && t.is_current ? (
									<Button
										variant="default"
										onClick={() =>
											put({
												...voidEntry(t.measure ?? "", newId(), entry.seen_at),
												given: true,
											})
										}
									>
										Saved as data: undo
									</Button>
								) : (
									<Button
										variant="default"
										onClick={() =>
											write({
												kind: "measure",
												what: t.id,
												values: { longest: t.longest, roots: t.roots },
												text: "",
												corrects: t.measure,
											})
										}
									>
										{t.measure ? "Save the corrected lengths as data" : "Save as data"}
									</Button>
								)}
							</div>
						</>
					) : (
						<>
							<p>
								{t.who || "Someone"} has traced this photo. Trace it yourself first, without seeing
								those marks, if two are to be compared.
							</p>
							<div>
								<Button variant="default" onClick={() => setAsked([...asked, t.id])}>
									Show these marks
								</Button>
							</div>
						</>
					)}
				</section>
			))}
			<Apart shown={shown} />
		</div>
	);
}

/** How far the longest roots of two tracings lie apart, where both may be seen. */
function Apart({ shown }: { shown: Trace[] }) {
	const [one, two] = shown.slice(-2);
	if (!one || !two || one.who === two.who) return null;
	const gap = Math.abs(one.longest - two.longest);
	const percent = (100 * gap) / Math.max(one.longest, two.longest);
	return (
		<p>
			{one.who || "One"} and {two.who || "the other"} differ by {gap.toFixed(1)} mm (
			{percent.toFixed(0)} %) on the longest root.
		</p>
	);
}
