import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/bitter";
import "@mantine/core/styles.css";
import "./global.css";
import { MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";
import { ApiProblem } from "@/api/client";
import { openOutbox } from "@/api/outbox";
import { router } from "./router";
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

void openOutbox();
if (import.meta.env.PROD) {
	// refused where the shed's certificate is not trusted yet: then reloading needs the shed
	navigator.serviceWorker?.register("/sw.js").catch(() => {});
}

createRoot(document.getElementById("root") as HTMLElement).render(
	<StrictMode>
		<MantineProvider theme={theme} defaultColorScheme="light">
			<QueryClientProvider client={queries}>
				<RouterProvider router={router} />
			</QueryClientProvider>
		</MantineProvider>
	</StrictMode>,
);
