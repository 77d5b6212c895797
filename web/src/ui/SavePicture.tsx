import { UnstyledButton } from "@mantine/core";
import { useRef, useState } from "react";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { keepPng, keepSvg, svgOf } from "./picture";
import styles from "./SavePicture.module.css";

/** Takes the card that it stands in out as a picture. */
export function SavePicture({ name }: { name: string }) {
	const self = useRef<HTMLDivElement>(null);
	const [error, setError] = useState<Error | null>(null);
	const drawn = () => {
		const card = self.current?.closest("section");
		return card ? svgOf(card) : "";
	};
	return (
		<div ref={self} className={`${styles.save} no-print`}>
			Picture of the {name}:
			<UnstyledButton
				aria-label={`Save picture of the ${name}: SVG`}
				onClick={() => keepSvg(drawn(), name)}
			>
				SVG
			</UnstyledButton>
			<UnstyledButton
				aria-label={`Save picture of the ${name}: PNG`}
				onClick={() => keepPng(drawn(), name).catch(setError)}
			>
				PNG
			</UnstyledButton>
			<ProblemAlert error={error} />
		</div>
	);
}
