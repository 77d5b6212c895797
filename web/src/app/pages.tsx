import type { ComponentType } from "react";
import { Link, type PageAt } from "@/ui/routing";

/** Loads the one page that is asked for; the service worker holds them all. */
function at<M, K extends keyof M>(path: string, load: () => Promise<M>, name: K): PageAt {
	return { path, load: async () => (await load())[name] as ComponentType };
}

export const PAGES: readonly PageAt[] = [
	at("/", () => import("@/features/today/TodayPage"), "TodayPage"),
	at("/trials", () => import("@/features/today/TrialsPage"), "TrialsPage"),
	at("/trials/new", () => import("@/features/start/StartPage"), "StartPage"),
	at("/trials/new/begun", () => import("@/features/start/BegunPage"), "BegunPage"),
	at("/trials/new/details", () => import("@/features/plan/PlanPage"), "PlanPage"),
	at("/trials/read-in", () => import("@/features/tables/ReadInPage"), "ReadInPage"),
	at("/trials/gardens", () => import("@/features/gardens/GardensPage"), "GardensPage"),
	at("/trials/together", () => import("@/features/series/SeriesPage"), "SeriesPage"),
	at("/trials/tables/:tableId", () => import("@/features/tables/TablePage"), "TablePage"),
	at("/trials/:trialId/plan", () => import("@/features/plan/PlanPage"), "PlanPage"),
	at("/trials/:trialId/compare", () => import("@/features/plan/ComparePage"), "ComparePage"),
	at("/trials/:trialId/prepare", () => import("@/features/prepare/PreparePage"), "PreparePage"),
	at("/trials/:trialId/paper", () => import("@/features/prepare/PaperPage"), "PaperPage"),
	at("/mixing", () => import("@/features/mixing/MixingPage"), "MixingPage"),
	at("/mixing/defaults", () => import("@/features/mixing/DefaultsPage"), "DefaultsPage"),
	at("/mixing/shelf", () => import("@/features/mixing/ShelfPage"), "ShelfPage"),
	at("/mixing/:key", () => import("@/features/mixing/SumPage"), "SumPage"),
	at("/dry-run", () => import("@/features/dryrun/DryRunPage"), "DryRunPage"),
	at("/dry-run/races", () => import("@/features/dryrun/RacePage"), "RacePage"),
	at("/u/:trial/:code", () => import("@/features/prepare/LabelPage"), "LabelPage"),
	at("/trials/:trialId/rounds", () => import("@/features/rounds/RoundsIndex"), "RoundsIndex"),
	at("/trials/:trialId/rounds/:day", () => import("@/features/rounds/RoundPage"), "RoundPage"),
	at(
		"/trials/:trialId/look-sheet",
		() => import("@/features/rounds/LookSheetPage"),
		"LookSheetPage",
	),
	at("/trials/:trialId/looks", () => import("@/features/looks/LooksPage"), "LooksPage"),
	at("/trials/:trialId/log", () => import("@/features/log/LogPage"), "LogPage"),
	at("/trials/:trialId/photos", () => import("@/features/log/PhotosPage"), "PhotosPage"),
	at(
		"/trials/:trialId/conditions",
		() => import("@/features/conditions/ConditionsPage"),
		"ConditionsPage",
	),
	at("/shed", () => import("@/features/shed/ShedPage"), "ShedPage"),
	at("/join", () => import("@/features/shed/JoinPage"), "JoinPage"),
	at("/trials/:trialId/finish", () => import("@/features/finish/FinishPage"), "FinishPage"),
	at("/form-book", () => import("@/features/formbook/FormBookPage"), "FormBookPage"),
	at("/form-book/treatment", () => import("@/features/formbook/TreatmentPage"), "TreatmentPage"),
	at("/form-book/plant", () => import("@/features/formbook/PlantPage"), "PlantPage"),
	at("/library", () => import("@/features/library/LibraryPage"), "LibraryPage"),
	at("/library/trainer", () => import("@/features/trainer/TrainerPage"), "TrainerPage"),
	at("/glossary", () => import("@/features/glossary/GlossaryPage"), "GlossaryPage"),
];

export function NothingHere() {
	return (
		<>
			<h1>Page not found</h1>
			<p>
				There is no page at this address. Go to <Link to="/">Today</Link>.
			</p>
		</>
	);
}
