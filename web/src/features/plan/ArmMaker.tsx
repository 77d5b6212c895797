import { Button, Checkbox, NativeSelect, TextInput } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ApiProblem, api, body, type Schemas, type Treatment } from "@/api/client";
import { NumberField } from "@/ui/NumberField";
import { ProblemAlert } from "@/ui/ProblemAlert";
import styles from "./Plan.module.css";

type Asked = Schemas["CrossIn"] | Schemas["LadderIn"] | Schemas["MixtureIn"];

export interface ArmMakerProps {
	way: Asked["way"];
	/** The arms that were made; they take the place of those on the page. */
	onMade: (arms: Treatment[]) => void;
}

/** Makes several arms at once: a cross of factors, a ladder, or mixture steps. */
export function ArmMaker({ way, onMade }: ArmMakerProps) {
	const make = useMutation({
		mutationFn: (asked: Asked) => body(api.POST("/api/plans/arms", { body: asked })),
		onSuccess: (arms) => onMade(arms.map((t) => ({ ...t }))),
	});
	const props = { send: (asked: Asked) => make.mutate(asked), busy: make.isPending };
	return (
		<div className={styles.maker}>
			{way === "cross" && <Cross {...props} />}
			{way === "ladder" && <StageScale {...props} />}
			{way === "mixture" && <Mixture {...props} />}
			{make.error instanceof ApiProblem ? (
				<p role="alert" className={styles.fault}>
					{make.error.message}
				</p>
			) : (
				<ProblemAlert error={make.error} />
			)}
			<p className="muted">These replace the treatments above. Undo restores them.</p>
		</div>
	);
}

interface WayProps {
	send: (asked: Asked) => void;
	busy: boolean;
}

function Cross({ send, busy }: WayProps) {
	const [factors, setFactors] = useState([
		{ name: "", levels: "" },
		{ name: "", levels: "" },
		{ name: "", levels: "" },
	]);
	const put = (i: number, change: Partial<{ name: string; levels: string }>) =>
		setFactors(factors.map((f, k) => (k === i ? { ...f, ...change } : f)));
	const used = factors.filter((f) => f.name.trim() || f.levels.trim());
	return (
		<>
			{factors.map((f, i) => (
				<div key={i} className={styles.pair}>
					<TextInput
						size="sm"
						label={i === 2 ? "Third factor (optional)" : `Factor ${i + 1}`}
						placeholder={["coat", "soak", "warmth"][i]}
						value={f.name}
						onChange={(e) => put(i, { name: e.currentTarget.value })}
					/>
					<TextInput
						size="sm"
						label="Levels, the usual one first"
						placeholder={["intact, nicked", "dry, overnight", "cool, warm"][i]}
						value={f.levels}
						onChange={(e) => put(i, { levels: e.currentTarget.value })}
					/>
				</div>
			))}
			<Button
				size="sm"
				loading={busy}
				onClick={() =>
					send({
						way: "cross",
						factors: used.map((f) => ({
							name: f.name,
							levels: f.levels.split(",").filter((v) => v.trim()),
						})),
					})
				}
			>
				Create all combinations
			</Button>
		</>
	);
}

function StageScale({ send, busy }: WayProps) {
	const [asked, setAsked] = useState({
		thing: "IBA",
		low: 500,
		high: 4000,
		steps: 4,
		unit: "ppm",
		carrier: "alcohol" as const,
		even: false,
	} as Omit<Schemas["LadderIn"], "way">);
	const put = (change: Partial<Schemas["LadderIn"]>) => setAsked({ ...asked, ...change });
	const number = (name: "low" | "high" | "steps", label: string) => (
		<NumberField
			size="sm"
			label={label}
			value={asked[name]}
			onChange={(v) => v !== null && put({ [name]: v })}
		/>
	);
	return (
		<>
			<div className={styles.small3}>
				<TextInput
					size="sm"
					label="Of what"
					value={asked.thing}
					onChange={(e) => put({ thing: e.currentTarget.value })}
				/>
				<TextInput
					size="sm"
					label="Unit"
					value={asked.unit}
					onChange={(e) => put({ unit: e.currentTarget.value })}
				/>
				<NativeSelect
					size="sm"
					label="Carrier"
					value={asked.carrier}
					data={["none", "alcohol", "water", "talc", "gel"]}
					onChange={(e) => put({ carrier: e.currentTarget.value as "none" })}
				/>
				{number("low", "From")}
				{number("high", "To")}
				{number("steps", "Steps")}
			</div>
			<Checkbox
				label="equal steps in place of equal ratios"
				checked={asked.even}
				onChange={(e) => put({ even: e.currentTarget.checked })}
			/>
			<Button size="sm" loading={busy} onClick={() => send({ way: "ladder", ...asked })}>
				Create series, with untreated and carrier control
			</Button>
		</>
	);
}

function Mixture({ send, busy }: WayProps) {
	const [asked, setAsked] = useState({ one: "peat", other: "perlite", steps: 5 });
	return (
		<>
			<div className={styles.small3}>
				<TextInput
					size="sm"
					label="Usual component"
					value={asked.one}
					onChange={(e) => setAsked({ ...asked, one: e.currentTarget.value })}
				/>
				<TextInput
					size="sm"
					label="Other component"
					value={asked.other}
					onChange={(e) => setAsked({ ...asked, other: e.currentTarget.value })}
				/>
				<NumberField
					size="sm"
					label="Mixtures"
					value={asked.steps}
					isWhole
					onChange={(v) => v !== null && setAsked({ ...asked, steps: v })}
				/>
			</div>
			<Button size="sm" loading={busy} onClick={() => send({ way: "mixture", ...asked })}>
				Create mixtures
			</Button>
		</>
	);
}
