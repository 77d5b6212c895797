/// <reference types="vitest/config" />
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
	plugins: [react()],
	resolve: { alias: { "@": new URL("./src", import.meta.url).pathname } },
	build: { outDir: "../src/racecard/web", emptyOutDir: true, target: "es2022", chunkSizeWarningLimit: 700 },
	server: { proxy: { "/api": "http://127.0.0.1:8620" } },
	test: { environment: "happy-dom", include: ["src/**/*.test.{ts,tsx}"] },
});
