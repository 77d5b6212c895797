import type { ComponentType } from "react";
import { createBrowserRouter } from "react-router";
import { Waiting } from "@/ui/Waiting";
import { NothingHere, Shell } from "./Shell";

/** Loads the one page that is asked for; the service worker holds them all. */
function page<M, K extends keyof M>(load: () => Promise<M>, name: K) {
	return async () => ({ Component: (await load())[name] as ComponentType });
}

export const router = createBrowserRouter([
	{
		element: <Shell />,
		hydrateFallbackElement: (
			<Shell>
				<Waiting shape="list" />
			</Shell>
		),
		children: [
			{ path: "/", lazy: page(() => import("@/features/today/TodayPage"), "TodayPage") },
			{ path: "/trials", lazy: page(() => import("@/features/today/TrialsPage"), "TrialsPage") },
			{ path: "/trials/new", lazy: page(() => import("@/features/start/StartPage"), "StartPage") },
			{
				path: "/trials/new/begun",
				lazy: page(() => import("@/features/start/BegunPage"), "BegunPage"),
			},
			{
				path: "/trials/new/details",
				lazy: page(() => import("@/features/plan/PlanPage"), "PlanPage"),
			},
			{
				path: "/trials/read-in",
				lazy: page(() => import("@/features/tables/ReadInPage"), "ReadInPage"),
			},
			{
				path: "/trials/gardens",
				lazy: page(() => import("@/features/gardens/GardensPage"), "GardensPage"),
			},
			{
				path: "/trials/together",
				lazy: page(() => import("@/features/series/SeriesPage"), "SeriesPage"),
			},
			{
				path: "/trials/tables/:tableId",
				lazy: page(() => import("@/features/tables/TablePage"), "TablePage"),
			},
			{
				path: "/trials/:trialId/plan",
				lazy: page(() => import("@/features/plan/PlanPage"), "PlanPage"),
			},
			{
				path: "/trials/:trialId/compare",
				lazy: page(() => import("@/features/plan/ComparePage"), "ComparePage"),
			},
			{
				path: "/trials/:trialId/prepare",
				lazy: page(() => import("@/features/prepare/PreparePage"), "PreparePage"),
			},
			{
				path: "/trials/:trialId/paper",
				lazy: page(() => import("@/features/prepare/PaperPage"), "PaperPage"),
			},
			{ path: "/mixing", lazy: page(() => import("@/features/mixing/MixingPage"), "MixingPage") },
			{
				path: "/mixing/defaults",
				lazy: page(() => import("@/features/mixing/DefaultsPage"), "DefaultsPage"),
			},
			{
				path: "/mixing/shelf",
				lazy: page(() => import("@/features/mixing/ShelfPage"), "ShelfPage"),
			},
			{ path: "/mixing/:key", lazy: page(() => import("@/features/mixing/SumPage"), "SumPage") },
			{ path: "/dry-run", lazy: page(() => import("@/features/dryrun/DryRunPage"), "DryRunPage") },
			{
				path: "/dry-run/races",
				lazy: page(() => import("@/features/dryrun/RacePage"), "RacePage"),
			},
			{
				path: "/u/:trial/:code",
				lazy: page(() => import("@/features/prepare/LabelPage"), "LabelPage"),
			},
			{
				path: "/trials/:trialId/rounds",
				lazy: page(() => import("@/features/rounds/RoundsIndex"), "RoundsIndex"),
			},
			{
				path: "/trials/:trialId/rounds/:day",
				lazy: page(() => import("@/features/rounds/RoundPage"), "RoundPage"),
			},
			{
				path: "/trials/:trialId/look-sheet",
				lazy: page(() => import("@/features/rounds/LookSheetPage"), "LookSheetPage"),
			},
			{
				path: "/trials/:trialId/looks",
				lazy: page(() => import("@/features/looks/LooksPage"), "LooksPage"),
			},
			{
				path: "/trials/:trialId/log",
				lazy: page(() => import("@/features/log/LogPage"), "LogPage"),
			},
			{
				path: "/trials/:trialId/photos",
				lazy: page(() => import("@/features/log/PhotosPage"), "PhotosPage"),
			},
			{
				path: "/trials/:trialId/conditions",
				lazy: page(() => import("@/features/conditions/ConditionsPage"), "ConditionsPage"),
			},
			{ path: "/shed", lazy: page(() => import("@/features/shed/ShedPage"), "ShedPage") },
			{ path: "/join", lazy: page(() => import("@/features/shed/JoinPage"), "JoinPage") },
			{
				path: "/trials/:trialId/finish",
				lazy: page(() => import("@/features/finish/FinishPage"), "FinishPage"),
			},
			{
				path: "/form-book",
				lazy: page(() => import("@/features/formbook/FormBookPage"), "FormBookPage"),
			},
			{
				path: "/form-book/plant",
				lazy: page(() => import("@/features/formbook/PlantPage"), "PlantPage"),
			},
			{
				path: "/library",
				lazy: page(() => import("@/features/library/LibraryPage"), "LibraryPage"),
			},
			{
				path: "/library/trainer",
				lazy: page(() => import("@/features/trainer/TrainerPage"), "TrainerPage"),
			},
			{
				path: "/glossary",
				lazy: page(() => import("@/features/glossary/GlossaryPage"), "GlossaryPage"),
			},
			{ path: "*", element: <NothingHere /> },
		],
	},
]);
