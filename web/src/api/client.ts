import createClient from "openapi-fetch";
import { noteBuild } from "./build";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Plan = Schemas["PlanIn"];
export type Kind = Schemas["Kind"];
export type PlanRead = Schemas["PlanOut"];
export type Treatment = Schemas["TreatmentIn"];
export type Trial = Schemas["TrialOut"];
export type TrialLine = Schemas["TrialLine"];
export type Consequences = Schemas["ConsequencesOut"];
export type Cell = Schemas["CellOut"];
export type Round = Schemas["RoundOut"];
export type RoundUnit = Schemas["RoundUnit"];
export type Observation = Schemas["ObservationOut"];
export type Sent = Schemas["ObservationIn"];
export type EntrySent = Schemas["EntryIn"];
export type Entry = Schemas["EntryOut"];
export type LogLine = Schemas["LogLine"];
export type Task = Schemas["TaskOut"];
export type Reference = Schemas["ReferenceOut"];
export type Trait = Schemas["TraitOut"];
export type Part = Schemas["PartOut"];
export type Conditions = Schemas["ConditionsOut"];
export type Curve = Schemas["CurveOut"];
export type Shared = Schemas["ShedOut"];
export type Table = Schemas["TableOut"];
export type Finish = Schemas["FinishOut"];
export type Lane = Schemas["LaneOut"];
export type Comparison = Schemas["ComparisonOut"];
export type Silk = Schemas["SilkOut"];
export type StageScale = Schemas["LadderOut"];
export type Key = Schemas["KeyOut"];
export type Note = Schemas["NoteOut"];
export type Role = Schemas["Role"];
export type MixCard = Schemas["CardOut"];
export type MixSum = Schemas["SumOut"];
export type MixQuestion = Schemas["QuestionOut"];
export type Flag = Schemas["FlagOut"];
export type Prepare = Schemas["PrepareOut"];
export type Prepared = Schemas["PreparedIn"];
export type ClockStep = Schemas["ClockStepOut"];
export type Recipe = Schemas["RecipeOut"];
export type Register = Schemas["RegisterOut"];
export type Plant = Schemas["PlantOut"];
export type Agent = Schemas["AgentOut"];

/** An error as the server says it: one plain sentence, and the values it concerns. */
export class ApiProblem extends Error {
	constructor(
		readonly status: number,
		readonly code: string,
		readonly title: string,
		readonly errors: readonly Schemas["ProblemError"][],
	) {
		super(errors[0]?.detail ?? title);
	}
}

/** The server did not answer at all. */
export class NoAnswer extends Error {
	constructor() {
		super("The server does not answer. Is Racecard running?");
	}
}

/** The name of whoever is at the bench, as it was last said on this device. */
export const whoIsHere = () => localStorage.getItem("racecard.who") ?? "";

let unsent = () => 0;
/** Lets every request tell the desk how much this device still holds. */
export function tellsWaiting(count: () => number): void {
	unsent = count;
}

const client = createClient<paths>({
	baseUrl: "/",
	fetch: (request) => globalThis.fetch(request), // looked up at each call, so that tests can stand in
});

client.use({
	onRequest({ request }) {
		const who = whoIsHere();
		if (who) request.headers.set("X-Who", encodeURIComponent(who));
		request.headers.set("X-Waiting", String(unsent()));
		return request;
	},
	onResponse({ response }) {
		noteBuild(response.headers.get("X-Built"));
	},
	onError() {
		return new NoAnswer();
	},
});

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The body of an answer, or the problem it tells of. */
export async function body<T>(answer: Promise<Answer<T>>): Promise<T> {
	const { data, error, response } = await answer;
	if (error === undefined && response.ok) return data as T;
	throw problemOf(response.status, error);
}

function problemOf(status: number, error: unknown): ApiProblem {
	const said = error as Partial<Schemas["Problem"]> | undefined;
	const code = said?.type?.split("/").pop() ?? "unforeseen";
	return new ApiProblem(
		status,
		code,
		said?.title ?? "Something went wrong. Try again.",
		said?.errors ?? [],
	);
}

export const api = client;
