import type { ReactNode } from "react";
import { ApiProblem } from "@/api/client";

/** What went wrong, in the sentences the server gave. */
export function ProblemAlert({ error, children }: { error: unknown; children?: ReactNode }) {
	if (!error) return null;
	const said = error instanceof ApiProblem ? error.errors.map((e) => e.detail) : [];
	const lines = said.length
		? [...new Set(said)]
		: [error instanceof Error ? error.message : "Something went wrong."];
	return (
		<div
			role="alert"
			style={{
				border: "1px solid var(--clay)",
				background: "var(--clay-wash)",
				borderRadius: 10,
				padding: "10px 14px",
				margin: "8px 0",
			}}
		>
			{lines.map((line) => (
				<p key={line}>{line}</p>
			))}
			{error instanceof ApiProblem && error.status === 401 && (
				<p>
					<a href="/join">Connect this device</a>
				</p>
			)}
			{children}
		</div>
	);
}
