import styles from "./Today.module.css";

/** Day of the last look without roots, and of the first with; an open end is still waiting. */
const ARMS: { name: string; rooted: [number, number][]; waiting: number; lost: number[] }[] = [
	{
		name: "Untreated",
		rooted: [
			[21, 24],
			[27, 30],
		],
		waiting: 4,
		lost: [15, 21],
	},
	{
		name: "Seaweed",
		rooted: [
			[12, 15],
			[15, 18],
			[15, 18],
			[18, 21],
			[18, 21],
			[21, 24],
			[24, 27],
			[30, 33],
		],
		waiting: 0,
		lost: [],
	},
];
const END = 42;
const X = (day: number) => 96 + (day / END) * 300;
const ROW = 9;

/** What comes out of a trial, in small: two lanes and the sentence above them; the data are invented. */
export function SamplePicture() {
	return (
		<figure className={styles.sample}>
			<figcaption>
				<strong>Seaweed is clearly ahead: 8 of 8 rooted, against 2 of 8 for Untreated.</strong>{" "}
				Chance alone would give so large a difference about 7 times in 1,000.
			</figcaption>
			<svg
				viewBox="0 0 410 196"
				role="img"
				aria-label="Two lanes: most with seaweed root before day 30, few untreated do"
			>
				{ARMS.map((arm, a) => {
					const top = 14 + a * (8 * ROW + 20);
					const rows = [
						...arm.rooted.map((r) => ({ kind: "rooted" as const, r })),
						...Array.from({ length: arm.waiting }, () => ({ kind: "waiting" as const })),
						...arm.lost.map((day) => ({ kind: "lost" as const, day })),
					];
					return (
						<g key={arm.name}>
							<text x={0} y={top + 4 * ROW + 4} className={styles.sampleName}>
								{arm.name}
							</text>
							{rows.map((row, i) => {
								const at = top + i * ROW + 4;
								return (
									<g key={i}>
										{row.kind === "rooted" && (
											<>
												<path d={`M${X(0)} ${at}H${X(row.r[0])}`} stroke="var(--rule)" />
												<path
													d={`M${X(row.r[0])} ${at}H${X(row.r[1])}`}
													stroke="var(--leaf)"
													strokeWidth={5}
												/>
												<path
													d={`M${X(row.r[1])} ${at}H${X(END)}`}
													stroke="var(--moss)"
													strokeWidth={5}
												/>
											</>
										)}
										{row.kind === "waiting" && (
											<>
												<path d={`M${X(0)} ${at}H${X(END)}`} stroke="var(--rule)" />
												<circle
													cx={X(END)}
													cy={at}
													r={3}
													fill="var(--card)"
													stroke="var(--muted)"
												/>
											</>
										)}
										{row.kind === "lost" && (
											<>
												<path d={`M${X(0)} ${at}H${X(row.day)}`} stroke="var(--rule)" />
												<path
													d={`M${X(row.day) - 3} ${at - 3}l6 6m0-6l-6 6`}
													stroke="var(--loss)"
													strokeWidth={1.6}
												/>
											</>
										)}
									</g>
								);
							})}
						</g>
					);
				})}
				<text x={X(0)} y={194} className={styles.sampleName}>
					day 0
				</text>
				<text x={X(END)} y={194} textAnchor="end" className={styles.sampleName}>
					day 42
				</text>
			</svg>
			<p className="muted">
				What a trial tells at the finish. Invented example: one line per cutting.
			</p>
		</figure>
	);
}
