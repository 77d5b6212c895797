import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import {
	type Agent,
	ApiProblem,
	api,
	body,
	type Plant,
	type Register,
	type Schemas,
} from "@/api/client";
import { key } from "@/api/keys";
import { ProblemAlert } from "@/ui/ProblemAlert";
import styles from "./MixingPage.module.css";

type Values = Record<string, string>;

interface Entry {
	key: string;
	label: string;
	type?: "date" | "number";
	choices?: { value: string; label: string }[];
}

const PLANT: Entry[] = [
	{ key: "species", label: "Plant" },
	{ key: "cultivar", label: "Cultivar" },
	{ key: "mother", label: "Mother plant" },
	{ key: "state", label: "Condition (in flower, woody …)" },
	{ key: "lot", label: "Seed batch" },
	{ key: "year", label: "Year", type: "number" },
	{ key: "source", label: "Source" },
	{ key: "storage", label: "Stored" },
	{ key: "germination_percent", label: "Germination on the label, %", type: "number" },
	{ key: "tested_on", label: "Germination tested on", type: "date" },
];
const AGENT: Entry[] = [
	{ key: "strength", label: "Strength, such as 1 %" },
	{ key: "batch", label: "Batch" },
	{ key: "made_on", label: "Made on", type: "date" },
	{ key: "opened_on", label: "Opened on", type: "date" },
	{ key: "expires_on", label: "Use by", type: "date" },
	{ key: "price", label: "Price", type: "number" },
	{ key: "shipping", label: "Shipping", type: "number" },
];

const number = (text: string | undefined) => {
	if (!text?.trim()) return null;
	const value = Number(text.replace(",", "."));
	return Number.isNaN(value) ? (text as unknown as number) : value; // the server says what is wrong
};
const asText = (lot: object | undefined, keys: string[]): Values =>
	Object.fromEntries(
		keys.map((k) => [k, String((lot as Record<string, unknown> | undefined)?.[k] ?? "")]),
	);

interface FormProps<T> {
	register: Register;
	onDone: () => void;
	plant?: T;
	agent?: T;
}

export function PlantForm({ plant, register, onDone }: FormProps<Plant>) {
	const stages = Object.entries(register.stages).map(([value, label]) => ({ value, label }));
	const entries: Entry[] = [
		...PLANT.slice(0, 3),
		{ key: "stage", label: "Wood stage", choices: [{ value: "", label: "none" }, ...stages] },
		...PLANT.slice(3),
	];
	const send = (v: Values) => {
		const sent = {
			...v,
			species: v.species ?? "",
			year: number(v.year),
			germination_percent: number(v.germination_percent),
		} as Schemas["PlantIn"];
		return plant
			? body(
					api.PUT("/api/materials/plants/{material_id}", {
						params: { path: { material_id: plant.id } },
						body: sent,
					}),
				)
			: body(api.POST("/api/materials/plants", { body: sent }));
	};
	const first = asText(
		plant,
		entries.map((e) => e.key),
	);
	return <LotForm entries={entries} first={first} send={send} onDone={onDone} />;
}

export function AgentForm({ agent, register, onDone }: FormProps<Agent>) {
	const actives = Object.entries(register.actives).map(([value, label]) => ({
		value,
		label: value === label ? value : `${value}, ${label}`,
	}));
	const known = agent && !(agent.active in register.actives);
	const entries: Entry[] = [
		{
			key: "active",
			label: "Active ingredient",
			choices: [
				{ value: "", label: "choose" },
				...actives,
				...(known ? [{ value: agent.active, label: agent.active }] : []),
				...["honey", "willow extract", "seaweed extract", "plain talc"].map((v) => ({
					value: v,
					label: v,
				})),
			],
		},
		{
			key: "basis",
			label: "The label states",
			choices: [
				{ value: "", label: "not known" },
				{ value: "acid", label: "the acid" },
				{ value: "salt", label: "salt" },
			],
		},
		{
			key: "form",
			label: "Form",
			choices: register.forms.map((f) => ({ value: f, label: f })),
		},
		{
			key: "carrier",
			label: "In",
			choices: [
				{ value: "", label: "nothing" },
				{ value: "alcohol", label: "alcohol" },
				{ value: "water", label: "water" },
			],
		},
		...AGENT,
	];
	const send = (v: Values) => {
		const sent = {
			...v,
			active: v.active ?? "",
			basis: v.basis ?? "",
			price: number(v.price),
			shipping: number(v.shipping),
		} as Schemas["AgentIn"];
		return agent
			? body(
					api.PUT("/api/materials/agents/{material_id}", {
						params: { path: { material_id: agent.id } },
						body: sent,
					}),
				)
			: body(api.POST("/api/materials/agents", { body: sent }));
	};
	const first = {
		...asText(
			agent,
			entries.map((e) => e.key),
		),
		form: agent?.form ?? "liquid",
	};
	return <LotForm entries={entries} first={first} send={send} onDone={onDone} />;
}

interface LotFormProps {
	entries: Entry[];
	first: Values;
	send: (values: Values) => Promise<unknown>;
	onDone: () => void;
}

function LotForm({ entries, first, send, onDone }: LotFormProps) {
	const queries = useQueryClient();
	const [values, setValues] = useState(first);
	const keep = useMutation({
		mutationFn: () => send(values),
		onSuccess: () => {
			void queries.invalidateQueries({ queryKey: key("register") });
			onDone();
		},
	});
	const fault = (key: string) =>
		keep.error instanceof ApiProblem
			? keep.error.errors.find((e) => e.pointer === `/${key}`)?.detail
			: undefined;
	const set = (key: string, value: string) => setValues({ ...values, [key]: value });
	const isSaid = entries.some((e) => fault(e.key));
	return (
		<form
			className={styles.lotForm}
			onSubmit={(e) => {
				e.preventDefault();
				keep.mutate();
			}}
		>
			{entries.map((e) => {
				const own = {
					size: "sm" as const,
					label: e.label,
					value: values[e.key] ?? "",
					error: fault(e.key),
				};
				return e.choices ? (
					<NativeSelect
						key={e.key}
						{...own}
						data={e.choices}
						onChange={(ev) => set(e.key, ev.currentTarget.value)}
					/>
				) : (
					<TextInput
						key={e.key}
						{...own}
						type={e.type === "date" ? "date" : "text"}
						inputMode={e.type === "number" ? "decimal" : undefined}
						maxLength={200}
						onChange={(ev) => set(e.key, ev.currentTarget.value)}
					/>
				);
			})}
			<div className={styles.full}>
				<Button size="sm" type="submit" loading={keep.isPending}>
					Save
				</Button>
				<Button size="sm" variant="default" onClick={onDone}>
					Cancel
				</Button>
			</div>
			{!isSaid && <ProblemAlert error={keep.error} />}
		</form>
	);
}
