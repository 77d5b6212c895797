import { Button } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, body, type Schemas } from "@/api/client";
import { fileBody } from "@/api/fileBody";
import { listsChanged } from "@/api/keys";
import { count } from "@/core/text";
import { ChooseFile } from "@/ui/ChooseFile";
import { ProblemAlert } from "@/ui/ProblemAlert";
import styles from "./FormBook.module.css";

/** The whole book as one file: taken out, and brought in without anything coming twice. */
export function BookFile() {
	const queries = useQueryClient();
	const bring = useMutation<Schemas["BroughtInOut"], Error, File>({
		mutationFn: (file) => body(api.POST("/api/form-book/bring-in", fileBody(file))),
		onSuccess: () => listsChanged(queries),
	});
	return (
		<section className={`${styles.file} no-print`} aria-label="The complete book as one file">
			<Button component="a" variant="default" size="sm" href="/api/form-book/book.json" download>
				Everything as one file
			</Button>
			<ChooseFile
				variant="default"
				size="sm"
				loading={bring.isPending}
				accept=".json,application/json"
				onChoose={([file]) => file && bring.mutate(file)}
			>
				Import such a file
			</ChooseFile>
			<span className="muted">All trials with their logs and all imported tables; no photos.</span>
			{bring.data && <p role="status">{cameIn(bring.data)}</p>}
			<ProblemAlert error={bring.error} />
		</section>
	);
}

export function cameIn({ trials, tables, already, left_out }: Schemas["BroughtInOut"]): string {
	const isOld = trials + tables === 0 && already > 0;
	const added = `${count(trials, "trial")} and ${count(tables, "imported table")} were added.`;
	const said = [isOld ? "Nothing new." : added];
	if (already > 0) said.push(`${already} ${already === 1 ? "was" : "were"} here already.`);
	if (left_out.length > 0)
		said.push(`Not in the file, since treatments are hidden: ${left_out.join("; ")}.`);
	return said.join(" ");
}
