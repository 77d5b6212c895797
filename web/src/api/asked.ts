import { queryOptions } from "@tanstack/react-query";
import { api, body } from "./client";
import { key } from "./keys";

/** Every trial in a line each. */
export const TRIALS = queryOptions({
	queryKey: key("trials"),
	queryFn: () => body(api.GET("/api/trials")),
});

/** What is due, overdue and coming, over all trials; asked anew every minute. */
export const TODAY = queryOptions({
	queryKey: key("today"),
	queryFn: () => body(api.GET("/api/today")),
	refetchInterval: 60_000,
});
