import { Button, type ButtonProps, FileButton } from "@mantine/core";
import { useRef } from "react";

export interface ChooseFileProps extends ButtonProps {
	accept: string;
	multiple?: boolean;
	/** The camera is opened where there is one. */
	isPhoto?: boolean;
	onChoose: (files: File[]) => void;
}

/** A button that asks for a file, or many; one that was corrected meanwhile can be chosen again. */
export function ChooseFile({
	accept,
	multiple = false,
	isPhoto = false,
	onChoose,
	...button
}: ChooseFileProps) {
	const forget = useRef<() => void>(null);
	return (
		<FileButton
			resetRef={forget}
			accept={accept}
			multiple={multiple}
			capture={isPhoto ? "environment" : undefined}
			onChange={(chosen) => {
				const files = Array.isArray(chosen) ? chosen : chosen ? [chosen] : [];
				forget.current?.();
				if (files.length > 0) onChoose(files);
			}}
		>
			{(props) => <Button {...button} {...props} />}
		</FileButton>
	);
}
