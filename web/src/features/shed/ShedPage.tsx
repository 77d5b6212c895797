import { Button, NativeSelect } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, body, type Shared } from "@/api/client";
import { key } from "@/api/keys";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Unopened } from "@/ui/Unopened";
import styles from "./Shed.module.css";

const WHEN = new Intl.DateTimeFormat(undefined, {
	day: "numeric",
	month: "short",
	hour: "2-digit",
	minute: "2-digit",
});

const TIME = new Intl.DateTimeFormat(undefined, { hour: "2-digit", minute: "2-digit" });

type Role = Shared["devices"][number]["role"];
const ROLES: { value: Role; label: string }[] = [
	{ value: "viewer", label: "looks on" },
	{ value: "helper", label: "helps: rounds, notes, photos, lifts" },
	{ value: "desk", label: "may do all the desk does" },
];

/** Who may reach this shed: this machine alone, or phones on the local network that joined. */
export function ShedPage() {
	const queries = useQueryClient();
	const found = useQuery({
		queryKey: key("shed"),
		queryFn: () => body(api.GET("/api/shed")),
		refetchInterval: 5_000,
		retry: false,
	});
	const told = (data: Shared) => queries.setQueryData(key("shed"), data);
	const renew = useMutation({
		mutationFn: () => body(api.POST("/api/shed/code")),
		onSuccess: told,
	});
	const withdraw = useMutation({
		mutationFn: (device_id: string) =>
			body(api.POST("/api/devices/{device_id}/withdraw", { params: { path: { device_id } } })),
		onSuccess: told,
	});
	const give = useMutation({
		mutationFn: (sent: { device_id: string; role: Role }) =>
			body(
				api.POST("/api/devices/{device_id}/role", {
					params: { path: { device_id: sent.device_id } },
					body: { role: sent.role },
				}),
			),
		onSuccess: told,
	});
	if (!found.data) return <Unopened of={[found]} shape="cards" />;
	const s = found.data;
	return (
		<div className={styles.stack}>
			<h1>Phones</h1>
			{s.is_shared && s.url ? (
				<Card title="Connect a phone">
					<div className={styles.join}>
						<div
							className={styles.square}
							role="img"
							aria-label="QR code to connect a phone"
							// biome-ignore lint/security/noDangerouslySetInnerHtml: drawn by the shed itself from its own address
							dangerouslySetInnerHTML={{ __html: s.square ?? "" }}
						/>
						<div className={styles.steps}>
							<ol>
								<li>The phone must be on the same network as this computer.</li>
								<li>
									Scan the square with its camera, or open {s.url.split("#")[0]} and type the code.
								</li>
								<li>
									The first time, the phone shows a warning. Continue, connect, then install the
									certificate as shown. After that the page also opens without a signal.
								</li>
							</ol>
							<p>
								Code <strong className={styles.code}>{s.code}</strong>{" "}
								<span className="muted">
									works once{s.code_until && `, until ${TIME.format(new Date(s.code_until))}`}
								</span>
							</p>
							<p className={styles.print}>
								The root’s fingerprint, to compare on the phone: <code>{s.fingerprint}</code>
							</p>
							<Button variant="default" loading={renew.isPending} onClick={() => renew.mutate()}>
								New code
							</Button>
							<p className="muted">
								{s.wrong_codes === 0
									? "No failed attempts"
									: `${s.wrong_codes} wrong ${s.wrong_codes === 1 ? "code was" : "codes were"} tried since the start; each makes that sender wait longer.`}
							</p>
						</div>
					</div>
				</Card>
			) : (
				<Card title="Phones are switched off">
					<p>
						To let phones on your network join, end Racecard and start it with{" "}
						<code>racecard start --shed</code>. It then serves them over HTTPS, and only those that
						joined with a code. Nothing leaves your network.
					</p>
				</Card>
			)}
			<ProblemAlert error={renew.error ?? withdraw.error ?? give.error} />
			<Card title="Connected devices">
				{s.devices.length === 0 ? (
					<p>No devices yet</p>
				) : (
					<ul className={styles.devices}>
						{s.devices.map((d) => (
							<li key={d.id}>
								<span dir="auto">
									<strong>{d.name}</strong>, joined {WHEN.format(new Date(d.joined_at))}
									{d.last_seen_at && `, last seen ${WHEN.format(new Date(d.last_seen_at))}`}
									{d.waiting ? (
										<strong>
											{" "}
											· holds {d.waiting} {d.waiting === 1 ? "entry" : "entries"} not sent yet
										</strong>
									) : null}
								</span>
								{d.withdrawn_at ? (
									<span className="muted">
										key withdrawn {WHEN.format(new Date(d.withdrawn_at))}
									</span>
								) : (
									<>
										<NativeSelect
											aria-label={`What ${d.name} may do`}
											value={d.role}
											data={ROLES}
											onChange={(e) =>
												give.mutate({ device_id: d.id, role: e.currentTarget.value as Role })
											}
										/>
										<Button variant="default" onClick={() => withdraw.mutate(d.id)}>
											Disconnect<span className="visually-hidden">: {d.name}</span>
										</Button>
									</>
								)}
							</li>
						))}
					</ul>
				)}
			</Card>
		</div>
	);
}
