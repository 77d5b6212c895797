import { useQuery } from "@tanstack/react-query";
import { api, body, type Ladder, type Silk } from "@/api/client";

/** Silks, drawings and ladders: one answer, kept for as long as the page is open. */
export function useReference() {
	const { data } = useQuery({
		queryKey: ["reference"],
		queryFn: () => body(api.GET("/api/reference")),
		staleTime: Number.POSITIVE_INFINITY,
	});
	return data;
}

export function useSilk(id: string): Silk | undefined {
	return useReference()?.silks.find((s) => s.id === id);
}

export function useLadder(kind: string | undefined): Ladder | undefined {
	return useReference()?.ladders.find((l) => l.kind === kind);
}
