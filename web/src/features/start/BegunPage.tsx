import { Button, Checkbox, Group, NativeSelect, Textarea, TextInput } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, body } from "@/api/client";
import { ofTrial, trialChanged } from "@/api/keys";
import { newSeed } from "@/core/seed";
import { Card } from "@/ui/Card";
import { NumberField } from "@/ui/NumberField";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { useReference } from "@/ui/reference";
import { Link, useNavigate } from "@/ui/routing";
import { useToday } from "@/ui/useToday";
import { useUnsaved } from "@/ui/useUnsaved";
import { WhyNot } from "@/ui/WhyNot";
import { BenchPainter } from "./BenchPainter";
import { type Begun, momentOf, NOTHING_YET, namesOf, silksOf, standing } from "./begun";
import styles from "./Start.module.css";
import { DIFFER } from "./start";

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";

/** A trial that stands on the bench already: since when, what stands where, and then the looks so far. */
export function BegunPage() {
	const [begun, setBegun, forget] = useUnsaved<Begun>("begun", NOTHING_YET);
	const set = (change: Partial<Begun>) => setBegun({ ...begun, ...change });
	const names = namesOf(begun.names);
	const silks = silksOf(useReference()?.silks.map((s) => s.id) ?? [], names.length, begun.control);
	const save = useSave(begun, forget);
	const why = missing(begun, names);
	return (
		<>
			<div className="page-head">
				<h1>It has already begun</h1>
				<Group gap="sm">
					<Button component={Link} to="/trials/new" variant="default">
						Plan a new one
					</Button>
					<Button component={Link} to="/trials/read-in" variant="default">
						It is over: I have results
					</Button>
				</Group>
			</div>
			<p className={styles.lead}>
				It is marked as written down afterwards and not randomised, so nothing here can be called
				clear. It still shows what to try next.
			</p>
			<Card className={`${styles.questions} ${styles.begun}`}>
				<Since begun={begun} set={set} names={names} />
				<section>
					<h2>2 · What stands where?</h2>
					<BenchPainter
						places={begun.places}
						names={names}
						silks={silks}
						onChange={(places) => set({ places })}
					/>
				</section>
				<Differ begun={begun} set={set} />
			</Card>
			<ProblemAlert error={save.error} />
			<div className={`${styles.act} ${styles.last}`}>
				<Button disabled={why !== ""} loading={save.isPending} onClick={() => save.mutate()}>
					Save and enter the looks so far
				</Button>
				<WhyNot>{why}</WhyNot>
			</div>
		</>
	);
}

interface PartProps {
	begun: Begun;
	set: (change: Partial<Begun>) => void;
}

function Since({ begun, set, names }: PartProps & { names: string[] }) {
	const today = useToday();
	return (
		<section>
			<h2>1 · What is it, and since when?</h2>
			<TextInput
				label="Treatments, with commas between"
				description="The untreated or usual one among them."
				placeholder="plain water, seaweed"
				maxLength={400}
				value={begun.names}
				onChange={(e) => set({ names: e.currentTarget.value })}
			/>
			<NativeSelect
				label="Compared with which one?"
				data={[
					...names.map((label, i) => ({ value: String(i), label })),
					{ value: "", label: "none of them is a control" },
				]}
				value={begun.control === null ? "" : String(begun.control)}
				onChange={(e) =>
					set({ control: e.currentTarget.value === "" ? null : Number(e.currentTarget.value) })
				}
			/>
			<div className={styles.pair}>
				<TextInput
					type="date"
					label="Began on"
					max={today}
					value={begun.on}
					onChange={(e) => set({ on: e.currentTarget.value })}
				/>
				<NumberField
					label="Plants in each container"
					isWhole
					min={1}
					max={200}
					value={begun.per}
					onChange={(per) => set({ per })}
				/>
				<TextInput
					label="Plant"
					placeholder="sage"
					maxLength={80}
					value={begun.plant}
					onChange={(e) => set({ plant: e.currentTarget.value })}
				/>
				<NativeSelect
					label="They are"
					data={[
						{ value: "cutting", label: "cuttings, bulbs or divisions" },
						{ value: "seed", label: "seeds" },
					]}
					value={begun.kind}
					onChange={(e) => set({ kind: e.currentTarget.value as Begun["kind"] })}
				/>
			</div>
			<Textarea
				label="What do you want to find out?"
				description="One line in your own words; may be left open."
				autosize
				maxLength={300}
				value={begun.question}
				onChange={(e) => set({ question: e.currentTarget.value })}
			/>
		</section>
	);
}

function Differ({ begun, set }: PartProps) {
	return (
		<section>
			<h2 id="begun-differ">3 · What else differs?</h2>
			<p className="muted">Between the treatments, besides the treatment itself.</p>
			<Checkbox.Group
				value={begun.differ}
				onChange={(differ) => set({ differ: differ as Begun["differ"] })}
				aria-labelledby="begun-differ"
			>
				<div className={styles.checks}>
					{DIFFER.map((d) => (
						<Checkbox key={d.value} value={d.value} label={d.label} />
					))}
				</div>
			</Checkbox.Group>
		</section>
	);
}

/** What is still to be entered, in a sentence; "" once it can be saved. */
function missing(begun: Begun, names: string[]): string {
	if (names.length < 2) return "Name two treatments or more.";
	if (!begun.on) return "Enter the day it began.";
	const none = standing(begun.places, names.length).indexOf(0);
	if (none >= 0) return `Show where ${names[none]} stands.`;
	return "";
}

function useSave(begun: Begun, forget: () => void) {
	const queries = useQueryClient();
	const navigate = useNavigate();
	return useMutation({
		mutationFn: () =>
			body(
				api.POST("/api/trials/begun", {
					body: {
						question: begun.question,
						plant: begun.plant,
						kind: begun.kind,
						names: namesOf(begun.names),
						control: begun.control,
						places: begun.places,
						per_container: begun.per ?? 1,
						at: momentOf(begun.on, new Date()),
						differ: begun.differ,
						time_zone: ZONE,
						seed: newSeed(),
					},
				}),
			),
		onSuccess: (trial) => {
			forget();
			queries.setQueryData(ofTrial(trial.id, "whole"), trial);
			void trialChanged(queries, trial.id, ["whole"]);
			navigate(`/trials/${trial.id}/looks`);
		},
	});
}
