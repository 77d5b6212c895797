import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Kind } from "@/api/client";
import { fileBody } from "@/api/fileBody";
import { listsChanged } from "@/api/keys";
import type { DateOrder } from "@/ui/DatesAsked";
import { useNavigate } from "@/ui/routing";
import {
	type Columns,
	kindOf,
	NO_COLUMNS,
	ofPack,
	type Returns,
	remember,
	remembered,
	sentOf,
	withGuesses,
} from "./gardens";

export interface Form {
	file: File;
	columns: Columns;
	days: number | null;
	order?: DateOrder;
	/** How many joined, where the form does not name them all. */
	enrolled: number | null;
	kind: Kind;
}

const query = ({ columns, days, order, enrolled, kind }: Form) => ({
	enrolled: enrolled ?? undefined,
	kind,
	map: sentOf(columns),
	days: days ?? undefined,
	dates: order,
});

/** A form of many gardens: what it holds as its columns are matched, and keeping it. */
export function useGardens() {
	const queries = useQueryClient();
	const navigate = useNavigate();
	const [form, setForm] = useState<Form | null>(null);
	const read = useMutation<Returns, Error, Form>({
		mutationFn: (f) =>
			body(api.POST("/api/gardens/read", { params: { query: query(f) }, ...fileBody(f.file) })),
	});
	const ask = (next: Form) => {
		setForm(next);
		read.mutate(next);
	};
	/** A new file: its columns as they were matched before, else as its headings say. */
	const choose = async (file: File) => {
		const first: Form = {
			file,
			columns: NO_COLUMNS,
			days: null,
			enrolled: null,
			kind: "cutting",
		};
		setForm(first);
		const found = await read.mutateAsync(first).catch(() => null);
		if (!found) return;
		const known = remembered(found.heads) ?? ofPack(found.heads);
		const begun = { ...first, kind: kindOf(found.heads) };
		if (known) ask({ ...begun, columns: known });
		else {
			const columns = withGuesses(NO_COLUMNS, found.mapped);
			setForm({ ...begun, columns: { ...columns, isWide: !columns.treatment } });
		}
	};
	const keep = useMutation({
		mutationFn: ({ name, control }: { name: string; control: string }) => {
			const f = form as Form;
			if (read.data) remember(read.data.heads, f.columns);
			const params = { query: { ...query(f), name, control } };
			return body(api.POST("/api/gardens", { params, ...fileBody(f.file) }));
		},
		onSuccess: (table) => {
			void listsChanged(queries);
			navigate(`/trials/tables/${table.id}`);
		},
	});
	return { form, ask, choose, read, keep };
}
