const ROOTS = [
	[],
	["M32 30Q30 42 26 46"],
	["M32 30Q24 38 20 52", "M32 30Q28 44 26 54"],
	["M32 30Q22 36 16 50", "M32 30Q28 44 27 58", "M32 30Q38 42 42 54", "M30 36Q34 44 34 54"],
	[
		"M32 30Q18 34 12 52",
		"M32 30Q24 42 22 60",
		"M32 30V62",
		"M32 30Q40 42 44 60",
		"M32 30Q46 34 52 50",
		"M22 40Q16 48 18 58",
	],
	[
		"M32 30Q14 32 6 52",
		"M32 30Q20 38 14 62",
		"M32 30Q26 46 24 64",
		"M32 30V66",
		"M32 30Q38 46 42 64",
		"M32 30Q44 38 50 62",
		"M32 30Q50 32 58 52",
		"M18 40Q12 46 10 60",
		"M46 40Q52 46 54 60",
	],
] as const;

/** A stem and its roots at one score: own drawing, the same six for every plant. */
export function RootsDrawing({ score, size = 40 }: { score: number; size?: number }) {
	return (
		<svg width={size} height={size} viewBox="0 0 64 68" aria-hidden>
			<path d="M4 24H60" stroke="var(--soil)" strokeWidth="3" />
			<path d="M32 4V34" stroke="var(--stem)" strokeWidth="5" strokeLinecap="round" />
			{(ROOTS[score] ?? []).map((d) => (
				<path
					key={d}
					d={d}
					fill="none"
					stroke="var(--root)"
					strokeWidth="3"
					strokeLinecap="round"
				/>
			))}
		</svg>
	);
}
