import { Button } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, body } from "@/api/client";
import { key } from "@/api/keys";
import { ProblemAlert } from "@/ui/ProblemAlert";
import styles from "./Shell.module.css";

/** Says loudly that this computer's clock is doubtful, and lets somebody say that it is right. */
export function ClockBanner() {
	const queries = useQueryClient();
	const { data } = useQuery({
		queryKey: key("clock"),
		queryFn: () => body(api.GET("/api/clock")),
		refetchInterval: 60_000,
		retry: false,
	});
	const confirm = useMutation({
		mutationFn: () => body(api.POST("/api/clock/confirm")),
		onSuccess: (clock) => queries.setQueryData(key("clock"), clock),
	});
	if (!data?.says) return null;
	return (
		<div role="alert" className={styles.clock}>
			<p>{data.says}</p>
			<Button
				size="sm"
				variant="default"
				loading={confirm.isPending}
				onClick={() => confirm.mutate()}
			>
				The clock is right
			</Button>
			<ProblemAlert error={confirm.error} />
		</div>
	);
}
