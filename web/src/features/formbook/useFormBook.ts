import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, body, type Schemas } from "@/api/client";
import { key } from "@/api/keys";
import { useSearchParams } from "@/ui/routing";

export type FormLine = Schemas["FormLineOut"];
export type FormBook = Schemas["FormBookOut"];
export type PlantBook = Schemas["PlantBookOut"];
export type Sort = Schemas["Sort"];

export const FILTERS = ["plant", "method", "quarter", "year", "verdict", "state"] as const;
export type Filter = (typeof FILTERS)[number];
export const PAGE = 50;

/** What is looked for, kept in the address so that Back brings it again; and the lines that fit. */
export function useFormBook() {
	const [asked, setAsked] = useSearchParams();
	const get = (name: string) => asked.get(name) ?? "";
	const query = {
		text: get("text"),
		plant: get("plant"),
		method: get("method"),
		quarter: get("quarter"),
		year: get("year"),
		verdict: get("verdict"),
		state: get("state"),
		sort: (get("sort") || "newest") as Sort,
		most: Number(get("most")) || PAGE,
	};
	const found = useQuery({
		queryKey: key("form-book", query),
		queryFn: ({ signal }) => body(api.GET("/api/form-book", { params: { query }, signal })),
		placeholderData: keepPreviousData,
		staleTime: 0,
		refetchInterval: (q) => ((q.state.data?.waiting ?? 0) > 0 ? 1200 : false),
	});
	const ask = (change: Partial<Record<keyof typeof query, string>>) =>
		setAsked(
			(was) => {
				const next = new URLSearchParams(was);
				if (!("most" in change)) next.delete("most");
				for (const [name, value] of Object.entries(change)) {
					if (value) next.set(name, value);
					else next.delete(name);
				}
				return next;
			},
			{ replace: true },
		);
	return { query, ask, found };
}

/** What the book says of one plant. */
export function usePlantBook(plant: string) {
	return useQuery({
		queryKey: key("plant-book", plant),
		queryFn: () => body(api.GET("/api/form-book/plant", { params: { query: { plant } } })),
		enabled: plant !== "",
		staleTime: 0,
	});
}

/** What the book says of one treatment. */
export function useTreatmentBook(name: string) {
	return useQuery({
		queryKey: key("treatment-book", name),
		queryFn: () => body(api.GET("/api/form-book/treatment", { params: { query: { name } } })),
		enabled: name !== "",
		staleTime: 0,
	});
}
