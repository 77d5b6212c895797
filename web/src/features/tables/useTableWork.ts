import { useQuery } from "@tanstack/react-query";
import { api, body, type Table } from "@/api/client";
import { key } from "@/api/keys";

const LOOK_AGAIN = 400;

/** A table as the server answered; a long one is asked for until it is there, and can be stopped. */
export function useTableWork(answered: Table | undefined) {
	const id = answered?.work?.id;
	const params = { path: { work_id: id ?? "" } };
	const asked = useQuery({
		queryKey: key("table-work", id),
		queryFn: () => body(api.GET("/api/tables/work/{work_id}", { params })),
		enabled: id !== undefined,
		refetchInterval: (q) => (q.state.data?.work || !q.state.data ? LOOK_AGAIN : false),
		retry: false,
	});
	const now = id === undefined ? answered : (asked.data ?? answered);
	return {
		table: now?.work ? undefined : now && { ...now, id: answered?.id ?? null },
		rows: now?.work?.rows,
		error: id === undefined ? null : asked.error,
		stop: async () => {
			if (now?.work) await api.DELETE("/api/tables/work/{work_id}", { params });
		},
	};
}
