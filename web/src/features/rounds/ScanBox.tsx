import { useEffect, useRef, useState } from "react";
import type { RoundUnit } from "@/api/client";
import { Sheet } from "@/ui/Sheet";
import { atCode } from "./round";

export interface ScanBoxProps {
	units: readonly RoundUnit[];
	isOpen: boolean;
	onFound: (i: number) => void;
	onClose: () => void;
}

/** Reads a label's square code with the camera and goes to its unit. */
export function ScanBox({ units, isOpen, onFound, onClose }: ScanBoxProps) {
	const video = useRef<HTMLVideoElement>(null);
	const [says, setSays] = useState("Point the camera at the QR code");
	const found = useRef(onFound);
	found.current = onFound;
	useEffect(() => {
		if (!isOpen) return;
		let stream: MediaStream | null = null;
		let timer: ReturnType<typeof setInterval> | undefined;
		let isLive = true;
		const begin = async () => {
			try {
				const { default: read } = await import("jsqr");
				stream = await navigator.mediaDevices.getUserMedia({
					video: { facingMode: "environment" },
				});
				if (!isLive || !video.current) {
					for (const t of stream.getTracks()) t.stop();
					return;
				}
				video.current.srcObject = stream;
				await video.current.play();
				const canvas = document.createElement("canvas");
				timer = setInterval(() => {
					const v = video.current;
					const pen = canvas.getContext("2d", { willReadFrequently: true });
					if (!v?.videoWidth || !pen) return;
					canvas.width = v.videoWidth;
					canvas.height = v.videoHeight;
					pen.drawImage(v, 0, 0);
					const code = read(
						pen.getImageData(0, 0, canvas.width, canvas.height).data,
						canvas.width,
						canvas.height,
					);
					if (!code) return;
					const at = atCode(units, codeIn(code.data));
					if (at >= 0) found.current(at);
					else setSays(`That label is of another bench: “${codeIn(code.data).slice(0, 30)}”.`);
				}, 200);
			} catch {
				setSays("No camera access. Allow it, or type the code.");
			}
		};
		void begin();
		return () => {
			isLive = false;
			clearInterval(timer);
			for (const t of stream?.getTracks() ?? []) t.stop();
		};
	}, [isOpen, units]);
	return (
		<Sheet opened={isOpen} onClose={onClose} title="Scan label">
			<p role="status">{says}</p>
			<video ref={video} muted playsInline style={{ width: "100%", borderRadius: 10 }} />
		</Sheet>
	);
}

/** The unit's code in a label's address, …/u/1a2b3c4d/K7Q. */
export function codeIn(address: string): string {
	return decodeURIComponent(address.split("/").pop() ?? "");
}
