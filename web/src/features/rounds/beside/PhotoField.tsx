import { Button, TextInput } from "@mantine/core";
import { useEffect, useState } from "react";
import type { EntrySent } from "@/api/client";
import { lengthsOf, rootsIn } from "@/core/traces";
import { ChooseFile } from "@/ui/ChooseFile";
import { PhotoTracer, saidOf } from "@/ui/PhotoMarks";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./Beside.module.css";

export interface PhotoFieldProps {
	/** What must be seen in the picture: the label of unit or tray. */
	label: string;
	/** The photo of one plant can be measured. */
	canMeasure: boolean;
	/** Gives the id it was kept under, null where this device refused it. */
	onKeep: (text: string, photo: Blob) => Promise<string | null>;
	/** Writes marks on a photo just taken, or the measure taken from them; gives its id, null where it was refused. */
	onWrite: (entry: Pick<EntrySent, "kind" | "what" | "values" | "text">) => Promise<string | null>;
}

const PICTURES = "image/jpeg,image/png,image/webp";

/** A photo, taken or chosen, with what should be in it; shown at once, sent when the shed is there. */
export function PhotoField({ label, canMeasure, onKeep, onWrite }: PhotoFieldProps) {
	const [photo, setPhoto] = useState<File | null>(null);
	const [url, setUrl] = useState("");
	const [text, setText] = useState("");
	const [kept, setKept] = useState<{ id: string; photo: Blob } | null>(null);
	useEffect(() => {
		if (!photo) return;
		const made = URL.createObjectURL(photo);
		setUrl(made);
		return () => URL.revokeObjectURL(made);
	}, [photo]);
	const choose = (files: File[]) => setPhoto(files[0] ?? null);
	if (kept) {
		return (
			<MeasureKept
				key={kept.id}
				{...kept}
				label={label}
				onWrite={onWrite}
				onDone={() => setKept(null)}
			/>
		);
	}
	return (
		<form
			className={styles.form}
			onSubmit={(e) => {
				e.preventDefault();
				if (!photo) return;
				void onKeep(text, photo).then((id) => {
					if (id === null) return;
					setKept(canMeasure ? { id, photo } : null);
					setPhoto(null);
					setUrl("");
					setText("");
				});
			}}
		>
			<div className={styles.frame}>
				<svg
					viewBox="0 0 160 100"
					role="img"
					aria-label={`Frame: plant upright, a scale next to it, the label ${label} in front`}
				>
					<rect
						x="4"
						y="4"
						width="152"
						height="92"
						fill="none"
						stroke="var(--muted)"
						strokeDasharray="6 5"
					/>
					<path
						d="M70 82V34M70 50Q56 44 52 30M70 44Q84 40 88 24"
						fill="none"
						stroke="var(--stem)"
						strokeWidth="4"
						strokeLinecap="round"
					/>
					<path
						d="M112 20V84M112 20H120M112 36H117M112 52H120M112 68H117M112 84H120"
						stroke="var(--muted)"
						strokeWidth="2.5"
					/>
					<rect
						x="22"
						y="66"
						width="30"
						height="18"
						rx="3"
						fill="var(--card)"
						stroke="var(--ink)"
					/>
					<text x="37" y="79" textAnchor="middle" fontSize="10" fill="var(--ink)">
						{label.slice(0, 5)}
					</text>
				</svg>
				<p>
					The same height and side each time; a scale (a ruler, a coin) beside the plant; the label{" "}
					{label} readable; a plain dark cloth behind roots.
				</p>
			</div>
			<div className={styles.two}>
				<ChooseFile isPhoto variant="default" accept={PICTURES} onChoose={choose}>
					Take photo
				</ChooseFile>
				<ChooseFile variant="default" accept={PICTURES} onChoose={choose}>
					Choose file
				</ChooseFile>
			</div>
			{photo && url && (
				<>
					<img className={styles.preview} src={url} alt="Preview" />
					<TextInput
						label="Comment (optional)"
						value={text}
						maxLength={500}
						onChange={(e) => setText(e.currentTarget.value)}
					/>
				</>
			)}
			<Button type="submit" disabled={!photo}>
				Save photo
			</Button>
			<WhyNot>{photo ? "" : "Take or choose a photo first."}</WhyNot>
			<p className={styles.hint}>Location and device data are removed from the photo</p>
		</form>
	);
}

interface MeasureKeptProps extends Pick<PhotoFieldProps, "label" | "onWrite"> {
	id: string;
	photo: Blob;
	onDone: () => void;
}

/** A photo just kept: measured at once, also without a signal, or left for later. */
function MeasureKept({ id, photo, label, onWrite, onDone }: MeasureKeptProps) {
	const [url, setUrl] = useState("");
	const [isOpen, setOpen] = useState(false);
	const [found, setFound] = useState<{ trace: string; lengths: number[] } | null>(null);
	useEffect(() => {
		const made = URL.createObjectURL(photo);
		setUrl(made);
		return () => URL.revokeObjectURL(made);
	}, [photo]);
	if (isOpen) {
		return (
			<PhotoTracer
				src={url}
				alt={`The photo of ${label}`}
				onCancel={() => setOpen(false)}
				onSave={(marks) => {
					const entry = { what: id, values: {}, text: JSON.stringify(marks) };
					void onWrite({ kind: "traced", ...entry }).then((trace) => {
						if (trace === null) return;
						setFound({ trace, lengths: lengthsOf(marks) ?? [] });
						setOpen(false);
					});
				}}
			/>
		);
	}
	if (found) {
		const longest = Math.round(10 * Math.max(...found.lengths)) / 10;
		const values = { longest, roots: rootsIn(found.lengths) };
		return (
			<div className={styles.form}>
				<p>
					{saidOf(found.lengths)}. The marks are saved; the lengths count only when you save them as
					data.
				</p>
				<Button
					onClick={() =>
						void onWrite({ kind: "measure", what: found.trace, values, text: "" }).then(
							(measure) => measure !== null && onDone(),
						)
					}
				>
					Save as data: longest root {longest} mm
				</Button>
				<Button variant="default" onClick={onDone}>
					Leave it as marks
				</Button>
			</div>
		);
	}
	return (
		<div className={styles.form}>
			<img className={styles.preview} src={url || undefined} alt="Preview" />
			<Button onClick={() => setOpen(true)}>Measure on this photo</Button>
			<Button variant="default" onClick={onDone}>
				Another photo
			</Button>
		</div>
	);
}
