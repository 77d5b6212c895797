import { Button } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Agent, api, body, type Plant, type Register } from "@/api/client";
import { key } from "@/api/keys";
import { Card } from "@/ui/Card";
import { Flags } from "@/ui/mixing/MixCard";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import { faultOf } from "@/ui/Unopened";
import { AgentForm, PlantForm } from "./LotForms";
import styles from "./MixingPage.module.css";

/** The register: plant material and agents that plans draw from, and what is to be said of them. */
export function ShelfPage() {
	const { data, error } = useQuery({
		queryKey: key("register"),
		queryFn: () => body(api.GET("/api/materials")),
	});
	return (
		<>
			<nav className={styles.back} aria-label="Back">
				<Link to="/mixing">Mixing</Link>
			</nav>
			<h1>Stock list</h1>
			<p className="muted">
				Plants and products used in your trials. Enter the active ingredient, not a brand.
			</p>
			<ProblemAlert error={faultOf({ data, error })} />
			{data && (
				<div className={styles.shelf}>
					<Plants register={data} />
					<Agents register={data} />
				</div>
			)}
		</>
	);
}

function useRetire() {
	const queries = useQueryClient();
	const [gone, setGone] = useState<{ id: string; name: string } | null>(null);
	const settle = () => queries.invalidateQueries({ queryKey: key("register") });
	const retire = useMutation({
		mutationFn: (lot: { id: string; name: string }) =>
			body(
				api.DELETE("/api/materials/{material_id}", { params: { path: { material_id: lot.id } } }),
			),
		onSuccess: (_, lot) => {
			setGone(lot);
			void settle();
		},
	});
	const back = useMutation({
		mutationFn: (id: string) =>
			body(
				api.POST("/api/materials/{material_id}/back", { params: { path: { material_id: id } } }),
			),
		onSuccess: () => {
			setGone(null);
			void settle();
		},
	});
	const undo = gone && (
		<p role="status">
			{gone.name} is off the shelf.{" "}
			<Button size="xs" variant="default" onClick={() => back.mutate(gone.id)}>
				Restore
			</Button>
		</p>
	);
	return { retire, undo, error: retire.error ?? back.error };
}

function Plants({ register }: { register: Register }) {
	const [open, setOpen] = useState<Plant | "new" | null>(null);
	const { retire, undo, error } = useRetire();
	return (
		<Card title="Plants" aside={`${register.plants.length} on the shelf`}>
			{register.plants.length === 0 && <p>None yet. Add a mother plant or seed batch.</p>}
			<ul className={styles.lots}>
				{register.plants.map((p) => (
					<li key={p.id}>
						<LotHead
							name={p.name}
							onChange={() => setOpen(p)}
							onRetire={() => retire.mutate({ id: p.id, name: p.name })}
						/>
						<span className="muted" dir="auto">
							{[register.stages[p.stage], p.state, p.year, p.source, p.storage]
								.filter(Boolean)
								.join(" · ")}
							{p.germination_percent != null &&
								` · label ${p.germination_percent} %${p.tested_on ? `, tested ${p.tested_on}` : ""}`}
						</span>
						<Flags flags={p.flags} />
					</li>
				))}
			</ul>
			{undo}
			<ProblemAlert error={error} />
			{open ? (
				<PlantForm
					key={open === "new" ? "new" : open.id}
					plant={open === "new" ? undefined : open}
					register={register}
					onDone={() => setOpen(null)}
				/>
			) : (
				<Button size="sm" variant="default" onClick={() => setOpen("new")}>
					Add plants
				</Button>
			)}
		</Card>
	);
}

function Agents({ register }: { register: Register }) {
	const [open, setOpen] = useState<Agent | "new" | null>(null);
	const { retire, undo, error } = useRetire();
	return (
		<Card title="Agents" aside={`${register.agents.length} on the shelf`}>
			{register.agents.length === 0 && <p>None yet. Add a product by its active ingredient.</p>}
			<ul className={styles.lots}>
				{register.agents.map((a) => (
					<li key={a.id}>
						<LotHead
							name={a.name}
							onChange={() => setOpen(a)}
							onRetire={() => retire.mutate({ id: a.id, name: a.name })}
						/>
						<span className="muted">
							{[
								a.basis && `stated as the ${a.basis}`,
								a.carrier && `in ${a.carrier}`,
								a.opened_on && `opened ${a.opened_on}`,
								a.expires_on && `good to ${a.expires_on}`,
							]
								.filter(Boolean)
								.join(" · ")}
						</span>
						<Flags flags={a.flags} />
					</li>
				))}
			</ul>
			{undo}
			<ProblemAlert error={error} />
			{open ? (
				<AgentForm
					key={open === "new" ? "new" : open.id}
					agent={open === "new" ? undefined : open}
					register={register}
					onDone={() => setOpen(null)}
				/>
			) : (
				<Button size="sm" variant="default" onClick={() => setOpen("new")}>
					Add product
				</Button>
			)}
		</Card>
	);
}

interface LotHeadProps {
	name: string;
	onChange: () => void;
	onRetire: () => void;
}

function LotHead({ name, onChange, onRetire }: LotHeadProps) {
	return (
		<div className={styles.lotHead}>
			<strong dir="auto">{name}</strong>
			<span>
				<Button
					size="xs"
					variant="subtle"
					color="moss"
					onClick={onChange}
					aria-label={`Change ${name}`}
				>
					Change
				</Button>
				<Button
					size="xs"
					variant="subtle"
					color="clay"
					onClick={onRetire}
					aria-label={`Remove from the list: ${name}`}
				>
					Remove
				</Button>
			</span>
		</div>
	);
}
