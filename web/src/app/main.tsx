import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/bitter";
import "@mantine/core/styles/baseline.css";
import "@mantine/core/styles/default-css-variables.css";
import "@mantine/core/styles/global.css";
import "@mantine/core/styles/ScrollArea.css";
import "@mantine/core/styles/UnstyledButton.css";
import "@mantine/core/styles/VisuallyHidden.css";
import "@mantine/core/styles/Paper.css";
import "@mantine/core/styles/Popover.css";
import "@mantine/core/styles/CloseButton.css";
import "@mantine/core/styles/Group.css";
import "@mantine/core/styles/Loader.css";
import "@mantine/core/styles/Overlay.css";
import "@mantine/core/styles/ModalBase.css";
import "@mantine/core/styles/Modal.css";
import "@mantine/core/styles/Input.css";
import "@mantine/core/styles/InlineInput.css";
import "@mantine/core/styles/Checkbox.css";
import "@mantine/core/styles/Radio.css";
import "@mantine/core/styles/SegmentedControl.css";
import "@mantine/core/styles/FloatingIndicator.css";
import "@mantine/core/styles/Switch.css";
import "@mantine/core/styles/Text.css";
import "@mantine/core/styles/Title.css";
import "@mantine/core/styles/Button.css";
import "./global.css";
import { MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { TODAY, TRIALS } from "@/api/asked";
import { loadNewerOnce } from "@/api/build";
import { ApiProblem } from "@/api/client";
import { openOutbox } from "@/api/outbox";
import { Pages } from "@/ui/routing";
import { Waiting } from "@/ui/Waiting";
import { NothingHere, PAGES } from "./pages";
import { Shell } from "./Shell";
import { theme } from "./theme";

const queries = new QueryClient({
	defaultOptions: {
		mutations: { networkMode: "always" },
		queries: {
			networkMode: "always", // without signal the service worker answers with what it holds
			retry: (tries, error) => !(error instanceof ApiProblem) && tries < 2,
			staleTime: 2_000,
		},
	},
});

window.addEventListener("vite:preloadError", loadNewerOnce);
void openOutbox();
// asked before anything is drawn: the answers come while the frame of the page is
void queries.prefetchQuery(TODAY);
if (location.pathname === "/") void queries.prefetchQuery(TRIALS);
if (import.meta.env.PROD) {
	// refused where the shed's certificate is not trusted yet: then reloading needs the shed
	navigator.serviceWorker?.register("/sw.js").catch(() => {});
}

createRoot(document.getElementById("root") as HTMLElement).render(
	<StrictMode>
		<MantineProvider theme={theme} defaultColorScheme="light">
			<QueryClientProvider client={queries}>
				<Pages pages={PAGES} waiting={<Waiting shape="list" />} nothing={NothingHere}>
					{(page, pathname) => <Shell pathname={pathname}>{page}</Shell>}
				</Pages>
			</QueryClientProvider>
		</MantineProvider>
	</StrictMode>,
);
