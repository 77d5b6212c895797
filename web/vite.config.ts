/// <reference types="vitest/config" />
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";
import { VitePWA } from "vite-plugin-pwa";

/** When this page was built: the server says its own with every answer, and an older page says so. */
const built = String(Date.now());
const tellsBuild: Plugin = {
	name: "tells-build",
	generateBundle() {
		this.emitFile({ type: "asset", fileName: "built.txt", source: built });
	},
};

/** The parts of the page one starts on are fetched beside the first script, not one after the other behind it. */
const startsOn: Plugin = {
	name: "starts-on",
	transformIndexHtml: {
		order: "post",
		handler(html, { bundle = {} }) {
			const chunks = Object.values(bundle).filter((b) => b.type === "chunk");
			const files = new Set<string>();
			const take = (name: string | undefined) => {
				const chunk = chunks.find((c) => c.fileName === name);
				if (!chunk || files.has(chunk.fileName) || html.includes(chunk.fileName)) return;
				files.add(chunk.fileName);
				chunk.imports.forEach(take);
				for (const css of chunk.viteMetadata?.importedCss ?? []) files.add(css);
			};
			take(chunks.find((c) => c.facadeModuleId?.endsWith("/today/TodayPage.tsx"))?.fileName);
			return [...files].map((file) => ({
				tag: "link",
				attrs: file.endsWith(".css")
					? { rel: "preload", as: "style", crossorigin: true, href: `/${file}` }
					: { rel: "modulepreload", crossorigin: true, href: `/${file}` },
				injectTo: "head" as const,
			}));
		},
	},
};

/** What was read once opens again without the shed: the page itself, and what it last showed. */
const worker = VitePWA({
	// the page registers it itself: no reload in mid-round when a new one comes
	injectRegister: false,
	manifest: {
		name: "Racecard",
		short_name: "Racecard",
		description: "Propagation trials, honestly judged",
		start_url: "/",
		display: "standalone",
		background_color: "#f6f2e7",
		theme_color: "#f6f2e7",
		icons: [{ src: "/icon.svg", sizes: "any", type: "image/svg+xml" }],
	},
	workbox: {
		clientsClaim: true,
		skipWaiting: true,
		globPatterns: ["**/*.{js,css,html,woff2,svg}"],
		navigateFallback: "/index.html",
		navigateFallbackDenylist: [/^\/api\//, /^\/garden\//],
		cleanupOutdatedCaches: true,
		runtimeCaching: [
			{
				urlPattern: ({ url, request }) =>
					request.method === "GET" &&
					url.pathname.startsWith("/api/") &&
					!/\/(shed|join|root\.crt|finish|openapi\.json)$/.test(url.pathname),
				handler: "NetworkFirst",
				options: {
					cacheName: "told",
					networkTimeoutSeconds: 4,
					expiration: { maxEntries: 300 },
					cacheableResponse: { statuses: [200] },
				},
			},
		],
	},
});

export default defineConfig({
	plugins: [react({ compiler: true }), worker, tellsBuild, startsOn],
	define: { __BUILT__: JSON.stringify(built) },
	resolve: { alias: { "@": new URL("./src", import.meta.url).pathname } },
	build: { outDir: "../src/racecard/web", emptyOutDir: true, target: "es2022", chunkSizeWarningLimit: 700 },
	server: { proxy: { "/api": "http://127.0.0.1:8620" } },
	// one window for all files: making one for each took longer than the tests; each clears away after itself
	test: { environment: "happy-dom", isolate: false, maxWorkers: "100%", include: ["src/**/*.test.{ts,tsx}"] },
});
