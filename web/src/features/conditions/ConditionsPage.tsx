import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Conditions, type Curve, type Trial } from "@/api/client";
import { ofTrial, trialChanged } from "@/api/keys";
import { count } from "@/core/text";
import { Card } from "@/ui/Card";
import { CurveDrawing } from "@/ui/CurveDrawing";
import { NumberField } from "@/ui/NumberField";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { RoundsNav } from "@/ui/RoundsNav";
import { useReference } from "@/ui/reference";
import { useParams } from "@/ui/routing";
import { TrialHeader } from "@/ui/TrialHeader";
import { faultOf, Unopened } from "@/ui/Unopened";
import { useTrial } from "@/ui/useTrial";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./Conditions.module.css";
import { LoggerFile } from "./LoggerFile";
import { PlaceFields } from "./PlaceFields";

const WHEN = new Intl.DateTimeFormat(undefined, {
	day: "numeric",
	month: "short",
	hour: "2-digit",
	minute: "2-digit",
});

/** Temperature, humidity, light and pH of the places a trial stands, along its course. */
export function ConditionsPage() {
	const { trialId = "" } = useParams();
	const trial = useTrial(trialId);
	const path = { trial_id: trialId };
	const found = useQuery({
		queryKey: ofTrial(trialId, "conditions"),
		queryFn: () => body(api.GET("/api/trials/{trial_id}/conditions", { params: { path } })),
	});
	if (!trial.data) return <Unopened of={[trial]} shape="cards" headed />;
	return (
		<>
			<TrialHeader trial={trial.data} compact />
			<RoundsNav trialId={trialId} />
			<ProblemAlert error={faultOf(found)} />
			{found.data && <Body trial={trial.data} found={found.data} />}
		</>
	);
}

function Body({ trial, found }: { trial: Trial; found: Conditions }) {
	return (
		<div className={styles.page}>
			{found.curves.length === 0 && (
				<Card title="No sensor readings yet">
					<p>
						Say where this trial stands, and its curve is drawn along the course: was it cold that
						week, did the heated base fail one night? Readings are typed below, read from a logger’s
						file, or posted by a logger.
					</p>
				</Card>
			)}
			{found.curves.map((c) => (
				<CurveCard key={`${c.place}-${c.quantity}`} trial={trial} curve={c} />
			))}
			<div className={styles.two}>
				<WatchCard trial={trial} found={found} />
				<TypedCard trial={trial} />
			</div>
			<LoggerFile trial={trial} />
		</div>
	);
}

function CurveCard({ trial, curve }: { trial: Trial; curve: Curve }) {
	return (
		<Card title={`${curve.label}, ${curve.place}`}>
			<p>{curve.says}</p>
			<CurveDrawing trial={trial} curve={curve} />
			{curve.faults.length > 0 && (
				<details className={styles.faults} open={curve.faults.length < 4}>
					<summary>
						<strong>
							{count(curve.faults.length, "reading or period", "readings or periods")} look wrong.
						</strong>{" "}
						Spikes are left out of the curve and of the degree-days; gaps and stuck values are not
						mended.
					</summary>
					<ul>
						{curve.faults.slice(0, 40).map((f) => (
							<li key={f.kind + f.start}>
								{f.kind}: {f.says}
							</li>
						))}
					</ul>
				</details>
			)}
		</Card>
	);
}

function WatchCard({ trial, found }: { trial: Trial; found: Conditions }) {
	const reference = useReference();
	const queries = useQueryClient();
	const [place, setPlace] = useState("");
	const [quantity, setQuantity] = useState("temperature");
	const [high, setHigh] = useState("");
	const [low, setLow] = useState("");
	const [base, setBase] = useState("");
	const save = useMutation({
		mutationFn: (isOn: boolean) =>
			body(
				api.POST("/api/trials/{trial_id}/watches", {
					params: { path: { trial_id: trial.id } },
					body: {
						place,
						quantity,
						high: number(high),
						low: number(low),
						base: number(base),
						is_on: isOn,
					},
				}),
			),
		onSuccess: () => trialChanged(queries, trial.id),
	});
	const of = reference?.quantities.find((q) => q.name === quantity);
	const places = [...new Set(found.places.map((p) => p.place))];
	return (
		<Card title="Places and alarms">
			<form
				className={styles.form}
				onSubmit={(e) => {
					e.preventDefault();
					save.mutate(true);
				}}
			>
				<PlaceFields
					place={place}
					quantity={quantity}
					onPlace={setPlace}
					onQuantity={setQuantity}
				/>
				<datalist id="places">
					{places.map((p) => (
						<option key={p} value={p} />
					))}
				</datalist>
				<Num label={`Alarm above, ${of?.unit ?? ""}`} value={high} onChange={setHigh} />
				<Num label={`Alarm below, ${of?.unit ?? ""}`} value={low} onChange={setLow} />
				{quantity === "temperature" && (
					<Num label="Base temperature for degree-days, °C" value={base} onChange={setBase} />
				)}
				<Button type="submit" loading={save.isPending}>
					Add place
				</Button>
				<Button variant="default" disabled={!place} onClick={() => save.mutate(false)}>
					Remove place
				</Button>
				<WhyNot>{place ? "" : "Name the place first."}</WhyNot>
			</form>
			<ProblemAlert error={save.error} />
			{found.places.length > 0 && (
				<ul className={styles.places}>
					{found.places.map((p) => (
						<li key={`${p.place}-${p.quantity}`}>
							{p.place}, {p.quantity}: {count(p.readings, "reading")}, last{" "}
							{WHEN.format(new Date(p.last))}
						</li>
					))}
				</ul>
			)}
			<p className="muted">Alarms are saved in the log as events</p>
		</Card>
	);
}

function TypedCard({ trial }: { trial: Trial }) {
	const reference = useReference();
	const queries = useQueryClient();
	const [place, setPlace] = useState("");
	const [quantity, setQuantity] = useState("temperature");
	const [unit, setUnit] = useState("");
	const [at, setAt] = useState(() =>
		new Date(Date.now() - new Date().getTimezoneOffset() * 60_000).toISOString().slice(0, 16),
	);
	const [value, setValue] = useState("");
	const [least, setLeast] = useState("");
	const of = reference?.quantities.find((q) => q.name === quantity);
	const isCrossed = value !== "" && least !== "" && Number(least) > Number(value);
	const add = useMutation({
		mutationFn: () => {
			const moment = new Date(at);
			const one = { place, quantity, unit: unit || (of?.units[0] ?? "") };
			const items = [{ ...one, at: moment.toISOString(), value: Number(value) }];
			// the lowest of a day stands an hour before the highest, so that both are kept
			if (least !== "") {
				const before = new Date(moment.getTime() - 3_600_000).toISOString();
				items.push({ ...one, at: before, value: Number(least) });
			}
			return body(api.POST("/api/readings", { body: { items, source: "typed" } }));
		},
		onSuccess: () => {
			setValue("");
			setLeast("");
			void trialChanged(queries, trial.id);
		},
	});
	return (
		<Card title="Add a reading">
			<form
				className={styles.form}
				onSubmit={(e) => {
					e.preventDefault();
					if (!isCrossed) add.mutate();
				}}
			>
				<PlaceFields
					place={place}
					quantity={quantity}
					onPlace={setPlace}
					onQuantity={(q) => {
						setQuantity(q);
						setUnit("");
					}}
				/>
				<Num label="Reading or maximum" value={value} onChange={setValue} required />
				<Num label="Minimum (if you have both)" value={least} onChange={setLeast} />
				{of && of.units.length > 1 && (
					<NativeSelect
						label="In"
						value={unit || of.units[0]}
						onChange={(e) => setUnit(e.currentTarget.value)}
						data={of.units}
					/>
				)}
				<TextInput
					label="When"
					type="datetime-local"
					required
					withAsterisk={false}
					value={at}
					onChange={(e) => setAt(e.currentTarget.value)}
				/>
				<Button type="submit" loading={add.isPending}>
					Save
				</Button>
			</form>
			{isCrossed && (
				<p role="alert">
					The lowest, {least}, lies above the reading, {value}: change one of the two.
				</p>
			)}
			<p className="muted">If you enter both, the minimum is saved one hour before the maximum.</p>
			<ProblemAlert error={add.error} />
			{add.data && (
				<p role="status">
					{add.data.added > 0
						? `${count(add.data.added, "reading")} kept.`
						: "There is already a reading for that date and time; it was not changed"}
				</p>
			)}
		</Card>
	);
}

interface NumProps {
	label: string;
	value: string;
	onChange: (v: string) => void;
	required?: boolean;
}

function Num({ label, value, onChange, required }: NumProps) {
	return (
		<NumberField
			label={label}
			required={required}
			withAsterisk={false}
			value={number(value)}
			onChange={(v) => onChange(v === null ? "" : String(v))}
		/>
	);
}

const number = (text: string) => (text === "" ? null : Number(text));
