import { Button, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Schemas } from "@/api/client";
import { key } from "@/api/keys";
import { useRemember } from "@/ui/mixing/useMix";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import { faultOf } from "@/ui/Unopened";
import styles from "./MixingPage.module.css";

/** Every number the bench takes for granted, its source, and the grower's own. */
export function DefaultsPage() {
	const { data, error } = useQuery({
		queryKey: key("defaults"),
		queryFn: () => body(api.GET("/api/mixing/defaults")),
	});
	const [seek, setSeek] = useState("");
	const remember = useRemember();
	const found = (data ?? []).filter((d) =>
		`${d.says} ${d.source}`.toLowerCase().includes(seek.trim().toLowerCase()),
	);
	return (
		<>
			<nav className={styles.back} aria-label="Back">
				<Link to="/mixing">Mixing</Link>
			</nav>
			<h1>Defaults</h1>
			<p className="muted">
				Values used when you enter none. Your own replace them and are printed on recipes.
			</p>
			<ProblemAlert error={faultOf({ data, error }) ?? remember.error} />
			<TextInput
				size="sm"
				label="Find"
				placeholder="talc, semi-ripe, soak …"
				value={seek}
				onChange={(e) => setSeek(e.currentTarget.value)}
				maw={320}
				my="sm"
			/>
			<ul className={styles.defaults}>
				{found.map((d) => (
					<DefaultRow
						key={d.key}
						line={d}
						onKeep={(value) => remember.mutate({ [`default:${d.key}`]: value })}
					/>
				))}
			</ul>
			{data && found.length === 0 && <p>No match</p>}
		</>
	);
}

interface RowProps {
	line: Schemas["DefaultOut"];
	onKeep: (value: string | null) => void;
}

function DefaultRow({ line: d, onKeep }: RowProps) {
	const [text, setText] = useState(d.own === null ? "" : String(d.own));
	const isNumber = /^\d+([.,]\d+)?$/.test(text.trim());
	return (
		<li>
			<span className={styles.what}>
				{d.says}
				<small>{d.source}</small>
			</span>
			<span className={styles.value}>
				{d.value} {d.unit}
			</span>
			<span className={styles.own}>
				<TextInput
					size="xs"
					w={90}
					aria-label={`Own value: ${d.says}`}
					placeholder="own"
					value={text}
					error={text.trim() !== "" && !isNumber ? "Write a number, such as 2.5." : undefined}
					onChange={(e) => setText(e.currentTarget.value)}
				/>
				<Button
					size="xs"
					variant="default"
					disabled={!isNumber}
					aria-label={`Save own value: ${d.says}`}
					onClick={() => onKeep(text.trim().replace(",", "."))}
				>
					Save
				</Button>
				{d.own !== null && (
					<Button
						size="xs"
						variant="subtle"
						color="moss"
						aria-label={`Back to ${d.value}: ${d.says}`}
						onClick={() => {
							setText("");
							onKeep(null);
						}}
					>
						Back to {d.value}
					</Button>
				)}
			</span>
		</li>
	);
}
