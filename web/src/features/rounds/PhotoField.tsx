import { useEffect, useState } from "react";
import { WhyNot } from "@/ui/WhyNot";
import styles from "./Beside.module.css";

export interface PhotoFieldProps {
	/** What must be seen in the picture: the label of unit or tray. */
	label: string;
	onKeep: (text: string, photo: Blob) => Promise<void>;
}

/** A photo, taken or chosen, with what should be in it; shown at once, sent when the shed is there. */
export function PhotoField({ label, onKeep }: PhotoFieldProps) {
	const [photo, setPhoto] = useState<File | null>(null);
	const [url, setUrl] = useState("");
	const [text, setText] = useState("");
	useEffect(() => {
		if (!photo) return;
		const made = URL.createObjectURL(photo);
		setUrl(made);
		return () => URL.revokeObjectURL(made);
	}, [photo]);
	return (
		<form
			className={styles.form}
			onSubmit={(e) => {
				e.preventDefault();
				if (!photo) return;
				void onKeep(text, photo).then(() => {
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
				<label className={styles.file}>
					Take photo
					<input
						type="file"
						accept="image/jpeg,image/png,image/webp"
						capture="environment"
						onChange={(e) => setPhoto(e.currentTarget.files?.[0] ?? null)}
					/>
				</label>
				<label className={styles.file}>
					Choose file
					<input
						type="file"
						accept="image/jpeg,image/png,image/webp"
						onChange={(e) => setPhoto(e.currentTarget.files?.[0] ?? null)}
					/>
				</label>
			</div>
			{photo && url && (
				<>
					<img className={styles.preview} src={url} alt="Preview" />
					<label>
						Comment (optional)
						<input value={text} maxLength={500} onChange={(e) => setText(e.currentTarget.value)} />
					</label>
				</>
			)}
			<button type="submit" disabled={!photo} className={styles.go}>
				Save photo
			</button>
			<WhyNot>{photo ? "" : "Take or choose a photo first."}</WhyNot>
			<p className={styles.hint}>Location and device data are removed from the photo</p>
		</form>
	);
}
