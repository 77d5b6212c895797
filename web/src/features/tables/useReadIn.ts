import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Kind, type Table } from "@/api/client";
import { fileBody } from "@/api/fileBody";
import { listsChanged } from "@/api/keys";
import { useNavigate } from "@/ui/routing";
import { useTableWork } from "./useTableWork";

export interface Asked {
	file: File;
	name: string;
	unit: "container" | "propagule" | null;
	control: string | null;
	skip: number[];
	/** What comes first in its dates; null where the table tells, or has none. */
	dates: "day-first" | "month-first" | null;
	/** What it holds, where its rows do not say. */
	kind: Kind | null;
}

function query(asked: Asked) {
	return {
		name: asked.name,
		unit: asked.unit ?? undefined,
		control: asked.control ?? undefined,
		skip: asked.skip.length ? asked.skip : undefined,
		dates: asked.dates ?? undefined,
		kind: asked.kind ?? undefined,
	};
}

/** Reading a file: what it comes to as one chooses, and keeping it. */
export function useReadIn() {
	const queries = useQueryClient();
	const navigate = useNavigate();
	const [asked, setAsked] = useState<Asked | null>(null);
	const check = useMutation<Table, Error, Asked>({
		mutationFn: (a) =>
			body(api.POST("/api/tables/check", { params: { query: query(a) }, ...fileBody(a.file) })),
	});
	const keep = useMutation<Table, Error, Asked>({
		mutationFn: (a) =>
			body(api.POST("/api/tables", { params: { query: query(a) }, ...fileBody(a.file) })),
		onSuccess: (table) => {
			void listsChanged(queries);
			navigate(`/trials/tables/${table.id}`);
		},
	});
	const bringIn = useMutation<{ id: string }, Error, File>({
		mutationFn: (file) => body(api.POST("/api/trials/bring-in", fileBody(file))),
		onSuccess: ({ id }) => {
			void listsChanged(queries);
			navigate(`/trials/${id}/plan`);
		},
	});
	const work = useTableWork(check.data);
	const ask = (next: Asked) => {
		void work.stop();
		setAsked(next);
		keep.reset();
		check.mutate(next);
	};
	const stop = () => {
		void work.stop();
		check.reset();
		setAsked(null);
	};
	return { asked, setAsked, ask, check, table: work.table, work, stop, keep, bringIn };
}
