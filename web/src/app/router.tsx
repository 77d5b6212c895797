import { createBrowserRouter } from "react-router";
import { ConditionsPage } from "@/features/conditions/ConditionsPage";
import { DryRunPage } from "@/features/dryrun/DryRunPage";
import { RacePage } from "@/features/dryrun/RacePage";
import { FinishPage } from "@/features/finish/FinishPage";
import { LogPage } from "@/features/log/LogPage";
import { PhotosPage } from "@/features/log/PhotosPage";
import { DefaultsPage } from "@/features/mixing/DefaultsPage";
import { MixingPage } from "@/features/mixing/MixingPage";
import { ShelfPage } from "@/features/mixing/ShelfPage";
import { SumPage } from "@/features/mixing/SumPage";
import { ComparePage } from "@/features/plan/ComparePage";
import { PlanPage } from "@/features/plan/PlanPage";
import { LabelPage } from "@/features/prepare/LabelPage";
import { PaperPage } from "@/features/prepare/PaperPage";
import { PreparePage } from "@/features/prepare/PreparePage";
import { LookSheetPage } from "@/features/rounds/LookSheetPage";
import { RoundPage } from "@/features/rounds/RoundPage";
import { RoundsIndex } from "@/features/rounds/RoundsIndex";
import { JoinPage } from "@/features/shed/JoinPage";
import { ShedPage } from "@/features/shed/ShedPage";
import { ReadInPage } from "@/features/tables/ReadInPage";
import { TablePage } from "@/features/tables/TablePage";
import { TodayPage } from "@/features/today/TodayPage";
import { TrialsPage } from "@/features/today/TrialsPage";
import { NothingHere, Shell } from "./Shell";

export const router = createBrowserRouter([
	{
		element: <Shell />,
		children: [
			{ path: "/", element: <TodayPage /> },
			{ path: "/trials", element: <TrialsPage /> },
			{ path: "/trials/new", element: <PlanPage /> },
			{ path: "/trials/read-in", element: <ReadInPage /> },
			{ path: "/trials/tables/:tableId", element: <TablePage /> },
			{ path: "/trials/:trialId/plan", element: <PlanPage /> },
			{ path: "/trials/:trialId/compare", element: <ComparePage /> },
			{ path: "/trials/:trialId/prepare", element: <PreparePage /> },
			{ path: "/trials/:trialId/paper", element: <PaperPage /> },
			{ path: "/mixing", element: <MixingPage /> },
			{ path: "/mixing/defaults", element: <DefaultsPage /> },
			{ path: "/mixing/shelf", element: <ShelfPage /> },
			{ path: "/mixing/:key", element: <SumPage /> },
			{ path: "/dry-run", element: <DryRunPage /> },
			{ path: "/dry-run/races", element: <RacePage /> },
			{ path: "/u/:trial/:code", element: <LabelPage /> },
			{ path: "/trials/:trialId/rounds", element: <RoundsIndex /> },
			{ path: "/trials/:trialId/rounds/:day", element: <RoundPage /> },
			{ path: "/trials/:trialId/look-sheet", element: <LookSheetPage /> },
			{ path: "/trials/:trialId/log", element: <LogPage /> },
			{ path: "/trials/:trialId/photos", element: <PhotosPage /> },
			{ path: "/trials/:trialId/conditions", element: <ConditionsPage /> },
			{ path: "/shed", element: <ShedPage /> },
			{ path: "/join", element: <JoinPage /> },
			{ path: "/trials/:trialId/finish", element: <FinishPage /> },
			{ path: "*", element: <NothingHere /> },
		],
	},
]);
