import { UnstyledButton } from "@mantine/core";
import { type MouseEvent, memo, useImperativeHandle, useState } from "react";
import type { Key, PlanRead, RoundUnit, StageScale } from "@/api/client";
import { StageDrawing } from "@/ui/StageDrawing";
import styles from "./Rounds.module.css";
import { isBaseUnseen, keyOf, sameAsLast, type Tap, tapOf } from "./round";
import { UnitTitle } from "./UnitTitle";
import type { PanelKeys } from "./useRoundKeys";

export interface StagePanelProps {
	unit: RoundUnit;
	plan: PlanRead;
	ladder: StageScale;
	onTap: (tap: Tap) => void;
	/** A seedling was freed from its coat. */
	onHelped: () => Promise<void>;
	keys: PanelKeys;
}

/** What is set beside the stage of one plant, before it is entered. */
interface Flags {
	unit: string;
	shoot: boolean;
	wilted: boolean;
	/** “Base not seen” was pressed, and nothing yet that the top showed. */
	asksWhat: boolean;
	isHelped: boolean;
}

function flagsOf(unit: RoundUnit): Flags {
	const shoot = (unit.current ?? unit.previous)?.shoot ?? false;
	return { unit: unit.id, shoot, wilted: false, asksWhat: false, isHelped: false };
}

/** The key panel of single plants: the ladder, its exits, and the flags beside the stage. */
export function StagePanel({ unit, plan, ladder, onTap, onHelped, keys }: StagePanelProps) {
	const [flags, setFlags] = useState(() => flagsOf(unit));
	if (flags.unit !== unit.id) setFlags(flagsOf(unit));
	const { shoot, wilted, asksWhat, isHelped } = flags;
	const flag = (change: Partial<Flags>) => setFlags((f) => ({ ...f, ...change }));
	const helpOut = () => {
		if (isHelped) return;
		flag({ isHelped: true });
		// where this device cannot keep it, it can be said again
		void onHelped().catch(() =>
			setFlags((f) => (f.unit === unit.id ? { ...f, isHelped: false } : f)),
		);
	};
	const last = keyOf(unit.previous, ladder);
	const all = [...ladder.stages, ...ladder.exits];
	// roots below and shoots above are two histories; any other outcome is one
	const isCutting = plan.kind === "cutting" && plan.outcome === "usual";
	const isSeed = plan.kind === "seed" && plan.outcome === "usual";
	const same = () => onTap({ ...sameAsLast(unit, ladder), shoot } as Tap);
	const unseen = () =>
		shoot || wilted ? onTap({ kind: "look", shoot, wilted }) : flag({ asksWhat: true });
	const before = isBaseUnseen(unit.previous) ? "base not seen" : last?.name.toLowerCase();
	useImperativeHandle(keys, () => (pressed: string) => {
		const found = all.find((k) => k.key === pressed);
		if (found) onTap(tapOf(found, { shoot, wilted }));
		else if (pressed === "Enter") same();
		else if (isCutting && pressed === "b") unseen();
		else if (isCutting && pressed === "s") flag({ shoot: !shoot });
		else if (!isSeed && pressed === "w") flag({ wilted: !wilted });
		else if (isSeed && pressed === "h") helpOut();
		else return false;
		return true;
	});
	/** A button is its key; touched or clicked it gives up the focus, or Enter would press it again. */
	const press = (key: string, by: MouseEvent<HTMLElement>) => {
		if (by.detail > 0) by.currentTarget.blur();
		keys.current?.(key);
	};
	const button = (k: Key) => (
		<PanelKey
			key={k.key}
			name={k.name}
			hint={endpointHint(plan, k)}
			keyName={k.key}
			drawing={k.drawing}
			isEndpoint={k.code === plan.endpoint}
			isOn={unit.current ? keyOf(unit.current, ladder)?.key === k.key : false}
			onPress={press}
		/>
	);
	return (
		<>
			<UnitTitle unit={unit}>
				{before ? `was ${before} on day ${unit.previous?.day}` : "first look"}
			</UnitTitle>
			<div className={styles.keys}>
				<PanelKey
					name="Same as last look"
					hint={before ? `still ${before}` : `as it was ${plan.kind === "seed" ? "sown" : "stuck"}`}
					keyName="Enter"
					drawing={last?.drawing ?? ladder.stages[0]?.drawing}
					onPress={press}
				/>
				{ladder.stages.map(button)}
			</div>
			<div className={styles.exits}>{ladder.exits.map(button)}</div>
			{isCutting && (
				<div className={styles.flags}>
					<UnstyledButton aria-pressed={isBaseUnseen(unit.current)} onClick={(e) => press("b", e)}>
						<span>
							Base not seen<i> top only</i>
						</span>{" "}
						<kbd>b</kbd>
					</UnstyledButton>
					<UnstyledButton aria-pressed={shoot} onClick={(e) => press("s", e)}>
						<span>
							Shoot<i> seen too</i>
						</span>{" "}
						<kbd>s</kbd>
					</UnstyledButton>
					<UnstyledButton aria-pressed={wilted} onClick={(e) => press("w", e)}>
						Limp <kbd>w</kbd>
					</UnstyledButton>
				</div>
			)}
			{asksWhat && !shoot && !wilted && (
				<p role="alert" className={styles.warned}>
					Press Shoot or Limp first, to say what the top showed. If it showed neither, leave the
					plant as not looked at.
				</p>
			)}
			{!isCutting && !isSeed && (
				<div className={styles.flags}>
					<UnstyledButton aria-pressed={wilted} onClick={(e) => press("w", e)}>
						Limp <kbd>w</kbd>
					</UnstyledButton>
				</div>
			)}
			{isSeed && (
				<div className={styles.flags}>
					<UnstyledButton aria-pressed={isHelped} onClick={(e) => press("h", e)}>
						<span>
							Helped<i> out of its coat</i>
						</span>{" "}
						<kbd>h</kbd>
					</UnstyledButton>
				</div>
			)}
		</>
	);
}

function endpointHint(plan: PlanRead, k: Key): string {
	if (plan.outcome !== "usual") return k.look_for;
	if (plan.kind === "cutting" && k.code === 6) {
		return `one root of ${plan.threshold_mm} mm, or three of ${plan.threshold_mm / 2}`;
	}
	if (plan.kind === "seed" && k.code === 2) return `root tip of ${plan.threshold_mm} mm or more`;
	return k.look_for;
}

interface PanelKeyProps {
	name: string;
	hint: string;
	keyName: string;
	drawing?: string;
	isEndpoint?: boolean;
	isOn?: boolean;
	onPress: (key: string, by: MouseEvent<HTMLElement>) => void;
}

/** One key; drawn anew only where it changed: there are many, and each tap moves to another plant. */
const PanelKey = memo(function PanelKey({
	name,
	hint,
	keyName,
	drawing,
	isEndpoint,
	isOn,
	onPress,
}: PanelKeyProps) {
	return (
		<UnstyledButton
			className={`${styles.key} ${isEndpoint ? styles.endpoint : ""} ${isOn ? styles.on : ""}`}
			onClick={(e) => onPress(keyName, e)}
		>
			{drawing && <StageDrawing name={drawing} size={38} />}
			<span className={styles.keyText}>
				<strong>{name}</strong>
				<span>{hint}</span>
			</span>
			{isEndpoint && <span className="visually-hidden">this counts, key</span>}
			<kbd>{keyName === "Enter" ? "↵" : keyName}</kbd>
		</UnstyledButton>
	);
});
