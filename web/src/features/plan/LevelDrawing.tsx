import type { Plan } from "@/api/client";

const POT = (x: number) => `M${x} 30h14l-2.5 14h-9z`;
const STEM = (x: number, top: number) =>
	`M${x} 34V${top}M${x} ${top + 5}q5 -1 7 -6M${x} ${top + 8}q-5 -1 -7 -6`;

/** What the lot places: one plant, a container of several, a tray, a place, a site. */
export function LevelDrawing({ level }: { level: NonNullable<Plan["level"]> }) {
	return (
		<svg viewBox="0 0 64 52" width="64" height="52" aria-hidden="true" style={{ flex: "none" }}>
			<g fill="none" stroke="var(--ink)" strokeWidth="1.8" strokeLinejoin="round">
				{level === "propagule" && (
					<>
						<path d={POT(10)} />
						<path d={POT(40)} />
						<path d={STEM(17, 12)} stroke="var(--moss)" />
						<path d={STEM(47, 12)} stroke="var(--moss)" />
					</>
				)}
				{level === "container" && (
					<>
						<path d="M18 18h28v4l-3 3v19a4 4 0 0 1 -4 4H25a4 4 0 0 1 -4 -4V25l-3 -3z" />
						<path d={`${STEM(27, 6)}${STEM(37, 4)}`} stroke="var(--moss)" />
						<path d="M22 30h20" stroke="var(--slate)" />
					</>
				)}
				{level === "tray" && (
					<>
						<path d="M6 24h52l-5 20H11z" />
						<path d="M20 24l-3 20M32 24v20M44 24l3 20" strokeWidth="1" />
						<path
							d={`${STEM(14, 8)}${STEM(26, 8)}${STEM(38, 8)}${STEM(50, 8)}`}
							stroke="var(--moss)"
						/>
					</>
				)}
				{level === "place" && (
					<>
						<path d="M4 42h56v5H4z" fill="var(--wash)" />
						<path d="M10 47c0 2 3 2 3 4M30 47c0 2 3 2 3 4M50 47c0 2 3 2 3 4" stroke="var(--clay)" />
						<path d="M12 28h12l-2 12h-8zM26 28h12l-2 12h-8zM40 28h12l-2 12h-8z" />
						<path d={`${STEM(18, 14)}${STEM(32, 14)}${STEM(46, 14)}`} stroke="var(--moss)" />
					</>
				)}
				{level === "site" && (
					<>
						<path d="M8 24L32 6L56 24M13 21V48H51V21" />
						<path d="M24 48V36h16v12" />
						<path d={STEM(32, 22)} stroke="var(--moss)" />
					</>
				)}
			</g>
		</svg>
	);
}
