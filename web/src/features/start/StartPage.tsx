import {
	Button,
	Checkbox,
	Group,
	NativeSelect,
	Textarea,
	TextInput,
	UnstyledButton,
} from "@mantine/core";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { ApiProblem, api, body } from "@/api/client";
import { key, ofTrial, trialChanged } from "@/api/keys";
import { newSeed } from "@/core/seed";
import { Card } from "@/ui/Card";
import { NumberField } from "@/ui/NumberField";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link, useNavigate } from "@/ui/routing";
import { faultOf } from "@/ui/Unopened";
import { useUnsaved } from "@/ui/useUnsaved";
import { ProposalCard } from "./ProposalCard";
import styles from "./Start.module.css";
import {
	AGAINST,
	type Answers,
	askedOf,
	CONTAINERS,
	type Designs,
	DIFFER,
	NO_ANSWERS,
	type Proposal,
} from "./start";

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";

/** Three questions to a trial: what, against what, with what; and up to three plans, best first. */
export function StartPage() {
	const [answers, setAnswers, forget] = useUnsaved<Answers>("start", NO_ANSWERS);
	const set = (change: Partial<Answers>) => setAnswers({ ...answers, ...change });
	const { data, error, isOld } = useDesigns(answers);
	const use = useThisPlan(forget);
	const fault = (field: string) =>
		error instanceof ApiProblem
			? error.errors.find((e) => e.pointer === `/${field}`)?.detail
			: undefined;
	const isElsewhere = error && !(error instanceof ApiProblem && error.errors.length > 0);
	return (
		<>
			<div className="page-head">
				<h1>New trial</h1>
				<Group gap="sm">
					<Button component={Link} to="/trials/new/begun" variant="default">
						It has already begun
					</Button>
					<Button component={Link} to="/trials/read-in" variant="default">
						It is over: I have results
					</Button>
					<Button component={Link} to="/trials/new/details" variant="default">
						All details at once
					</Button>
				</Group>
			</div>
			<Card className={styles.questions}>
				<Questions answers={answers} set={set} data={data} fault={fault} />
			</Card>
			{isElsewhere && <ProblemAlert error={error} />}
			{use.error && <ProblemAlert error={use.error} />}
			<Proposals
				answers={answers}
				data={data}
				use={use.mutate}
				isBusy={use.isPending}
				isOld={isOld}
			/>
		</>
	);
}

interface QuestionsProps {
	answers: Answers;
	set: (change: Partial<Answers>) => void;
	data: Designs | undefined;
	fault: (field: string) => string | undefined;
}

function Questions({ answers, set, data, fault }: QuestionsProps) {
	const isHidden = ["sites", "control", "difference"].some((field) => fault(field) !== undefined);
	const plants = data?.understood.kind === "seed" ? "Seeds" : "Cuttings, seeds or bulbs";
	return (
		<>
			<section>
				<h2>1 · What do you want to find out?</h2>
				<Textarea
					aria-label="What do you want to find out?"
					description="One line in your own words."
					placeholder="Do rosemary cuttings root better with seaweed?"
					autosize
					minRows={2}
					maxLength={300}
					value={answers.question}
					onChange={(e) => set({ question: e.currentTarget.value })}
				/>
				<ReadAs answers={answers} set={set} data={data} />
				<NativeSelect
					label="Compared with what?"
					description="If the treatment is a liquid, the control needs the same wetting."
					data={AGAINST}
					value={answers.against || data?.understood.against || "nothing"}
					onChange={(e) => set({ against: e.currentTarget.value as Answers["against"] })}
				/>
			</section>
			<section>
				<h2>2 · What have you got?</h2>
				<div className={styles.pair}>
					<NumberField
						label={plants}
						placeholder="24"
						isWhole
						value={answers.plants}
						error={fault("plants")}
						onChange={(plants) => set({ plants })}
					/>
					<NumberField
						label="How many can stand apart?"
						placeholder={answers.plants === null ? "24" : String(answers.plants)}
						isWhole
						value={answers.containers}
						error={fault("containers")}
						onChange={(containers) => set({ containers })}
					/>
					<NativeSelect
						label="They stand in"
						data={CONTAINERS}
						value={answers.container}
						onChange={(e) => set({ container: e.currentTarget.value as Answers["container"] })}
					/>
					<NumberField
						label="Days"
						placeholder="as usual"
						isWhole
						min={1}
						max={730}
						value={answers.days}
						onChange={(days) => set({ days })}
					/>
				</div>
				<p className="muted">A tray of 24 cells counts as 24. Empty: each has its own.</p>
				<details className={styles.more} open={isHidden || undefined}>
					<summary>Places, helpers, what is usual</summary>
					<div className={styles.pair}>
						<NumberField
							label="Places (sills, households)"
							placeholder="1"
							isWhole
							value={answers.sites}
							error={fault("sites")}
							onChange={(sites) => set({ sites })}
						/>
						<NumberField
							label={`Usually ${data?.understood.kind === "seed" ? "come up" : "root"} untreated, in 100`}
							placeholder={String(data?.control_percent ?? 40)}
							min={0}
							max={100}
							value={answers.percent}
							error={fault("control")}
							onChange={(percent) => set({ percent })}
						/>
						<NumberField
							label="Difference that matters, in 100"
							placeholder={String(data?.gap_points ?? 40)}
							min={0}
							max={100}
							value={answers.points}
							error={fault("difference")}
							onChange={(points) => set({ points })}
						/>
					</div>
					<Checkbox
						mt="sm"
						label="Somebody else scores, without knowing which is which"
						checked={answers.blind}
						onChange={(e) => set({ blind: e.currentTarget.checked })}
					/>
				</details>
			</section>
			<section>
				<h2 id="ask-differ">3 · What else will differ?</h2>
				<p className="muted">Tick only what you cannot keep the same for all.</p>
				<Checkbox.Group
					value={answers.differ}
					onChange={(differ) => set({ differ: differ as Answers["differ"] })}
					aria-labelledby="ask-differ"
				>
					<div className={styles.checks}>
						{DIFFER.map((d) => (
							<Checkbox key={d.value} value={d.value} label={d.label} />
						))}
					</div>
				</Checkbox.Group>
				{answers.differ.length > 0 && (
					<p className={styles.warn}>
						Then nobody can tell which of them made the difference. Keep it the same if you can.
					</p>
				)}
			</section>
		</>
	);
}

/** What was read of the line, and a way to say it otherwise. */
function ReadAs({ answers, set, data }: Omit<QuestionsProps, "fault">) {
	const [isOpen, setOpen] = useState(false);
	const read = data?.understood;
	if (!read) return null;
	return (
		<div className={styles.read}>
			{read.is_told ? (
				<p>
					Understood as: <strong>{read.plant || "plants"}</strong>, {read.kind}s · compared:{" "}
					<strong>{read.names.join(", ")}</strong>
					{" · "}
					{read.is_against_told
						? `against ${read.against}`
						: "against what is not said: untreated is proposed"}
					{OUTCOMES[read.outcome] && ` · ${OUTCOMES[read.outcome]}`}
					{JUDGED[read.judged] && ` · judged on ${JUDGED[read.judged]}`} ·{" "}
					<UnstyledButton
						className={styles.link}
						aria-expanded={isOpen}
						onClick={() => setOpen(!isOpen)}
					>
						Change
					</UnstyledButton>
				</p>
			) : (
				<p>
					It is not said what is compared
					{OUTCOMES[read.outcome] && ` (${OUTCOMES[read.outcome]})`}.{" "}
					<UnstyledButton
						className={styles.link}
						aria-expanded={isOpen}
						onClick={() => setOpen(!isOpen)}
					>
						Name the treatments
					</UnstyledButton>
				</p>
			)}
			{read.unread.length > 0 && (
				<p className={styles.unread}>
					Not understood: <strong>{read.unread.join(", ")}</strong>. The plans below leave it out;
					say it in other words, or name the treatments.
				</p>
			)}
			{isOpen && (
				<div className={styles.pair}>
					<TextInput
						label="Treatments, with commas between"
						description="The one you care about most first; the control is added."
						placeholder={read.names.join(", ") || "seaweed, coconut water"}
						value={answers.names}
						onChange={(e) => set({ names: e.currentTarget.value })}
					/>
					<TextInput
						label="Plant"
						placeholder={read.plant}
						maxLength={80}
						value={answers.plant}
						onChange={(e) => set({ plant: e.currentTarget.value })}
					/>
					<NativeSelect
						label="They are"
						data={[
							{ value: "", label: `as read: ${read.kind}s` },
							{ value: "cutting", label: "cuttings, bulbs or divisions" },
							{ value: "seed", label: "seeds" },
						]}
						value={answers.kind ?? ""}
						onChange={(e) => set({ kind: e.currentTarget.value as Answers["kind"] })}
					/>
				</div>
			)}
		</div>
	);
}

interface ProposalsProps {
	answers: Answers;
	data: Designs | undefined;
	use: (proposal: Proposal) => void;
	isBusy: boolean;
	/** They answer what was written before: shown until the new ones come, and not to be taken. */
	isOld: boolean;
}

function Proposals({ answers, data, use, isBusy, isOld }: ProposalsProps) {
	if (answers.plants === null)
		return (
			<p className={styles.empty}>
				Enter how many cuttings or seeds you have, and up to three plans stand here, best first.
			</p>
		);
	if (!data) return null;
	return (
		<section aria-label="Plans" className={styles.proposals} aria-live="polite">
			<h2>
				{data.says
					? ""
					: data.proposals.length === 1
						? "One way to do it"
						: `${WAYS[data.proposals.length]} ways to do it`}
			</h2>
			{data.says && <p className={styles.banner}>{data.says}</p>}
			<ol className={styles.cards}>
				{data.proposals.map((p) => (
					<li key={`${p.title} ${p.chip}`}>
						<ProposalCard
							proposal={p}
							container={answers.container}
							use={() => use(p)}
							isBusy={isBusy}
							isOld={isOld}
						/>
					</li>
				))}
			</ol>
		</section>
	);
}

/** What is watched for, where the line says another thing than roots or seedlings. */
const OUTCOMES: Partial<Record<Designs["understood"]["outcome"], string>> = {
	shoot: "watched for shoots",
	bloom: "watched for bloom",
	bulb: "watched for bulblets and new buds",
};

/** What the trial is judged on, where the line says another thing than how many. */
const JUDGED: Partial<Record<Designs["understood"]["judged"], string>> = {
	speed: "how soon",
	quality: "the roots",
};

const WAYS = ["No", "One", "Two", "Three"];

/** The proposals for the answers as they stand, asked a moment after the last key; old ones are dropped. */
function useDesigns(answers: Answers) {
	const [asked, setAsked] = useState(answers);
	useEffect(() => {
		const timer = setTimeout(() => setAsked(answers), 150);
		return () => clearTimeout(timer);
	}, [answers]);
	const sent = askedOf(asked, ZONE);
	const { data, error, isPlaceholderData } = useQuery({
		queryKey: key("designs", sent),
		enabled: sent !== undefined,
		queryFn: ({ signal }) =>
			body(api.POST("/api/designs", { body: sent as NonNullable<typeof sent>, signal })),
		placeholderData: keepPreviousData,
		staleTime: Number.POSITIVE_INFINITY,
		gcTime: 60_000,
	});
	return {
		data,
		error: faultOf({ data, error }),
		isOld: isPlaceholderData || asked !== answers,
	};
}

/** Saves a proposal's plan as a draft and opens it. */
function useThisPlan(forget: () => void) {
	const queries = useQueryClient();
	const navigate = useNavigate();
	return useMutation({
		mutationFn: ({ plan }: Proposal) =>
			body(api.POST("/api/trials", { body: { plan, seed: newSeed(), locks: [], revision: null } })),
		onSuccess: (trial) => {
			forget();
			queries.setQueryData(ofTrial(trial.id, "whole"), trial);
			void trialChanged(queries, trial.id, ["whole"]);
			navigate(`/trials/${trial.id}/plan`);
		},
	});
}
