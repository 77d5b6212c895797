import { useQuery } from "@tanstack/react-query";
import { api, body } from "@/api/client";
import { key } from "@/api/keys";
import { dayMonth } from "@/core/text";
import { Link } from "@/ui/routing";
import styles from "./Today.module.css";

/** Tables of results that were read in, each the way to its judgement. */
export function TablesReadIn() {
	const { data } = useQuery({
		queryKey: key("tables"),
		queryFn: () => body(api.GET("/api/tables")),
	});
	if (!data?.length) return null;
	return (
		<section className={styles.tables}>
			<h2>Imported results</h2>
			<ul>
				{data.map((t) => (
					<li key={t.id}>
						<Link to={`/trials/tables/${t.id}`} dir="auto">
							{t.name}
						</Link>{" "}
						<span className="muted">read in {dayMonth(t.created_at)}</span>
					</li>
				))}
			</ul>
		</section>
	);
}
