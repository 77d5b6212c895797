import { Button, TextInput } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, body } from "@/api/client";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link, useLocation } from "@/ui/routing";
import { useOpensAlone } from "@/ui/useOpensAlone";
import styles from "./Shed.module.css";

const STEPS = [
	{
		name: "Android",
		says: "Settings → Security → Encryption and credentials → Install a certificate → CA certificate; choose the file.",
	},
	{
		name: "iPhone, iPad",
		says: "Open the file, allow the profile, then Settings → General → VPN & Device Management → install it; then Settings → General → About → Certificate Trust Settings → switch it on.",
	},
	{
		name: "Windows",
		says: "Open the file → Install Certificate → Current User → Place in: Trusted Root Certification Authorities.",
	},
	{ name: "Mac", says: "Open the file in Keychain Access, then set it to Always Trust for SSL." },
	{
		name: "Linux",
		says: "In the browser’s settings under Certificates → Authorities, import the file and trust it for websites.",
	},
];

/** Where a phone joins the shed: the code, its name, and how to trust the shed's root. */
export function JoinPage() {
	const { hash } = useLocation();
	const [code, setCode] = useState(hash.slice(1));
	const [name, setName] = useState(localStorage.getItem("racecard.who") ?? "");
	const opensAlone = useOpensAlone();
	const join = useMutation({
		mutationFn: () => body(api.POST("/api/join", { body: { code, name } })),
		onSuccess: () => {
			if (name.trim()) localStorage.setItem("racecard.who", name.trim());
		},
	});
	return (
		<div className={`${styles.page} ${styles.stack}`}>
			<h1>Connect this device</h1>
			<Card title={join.data ? "Connected" : "The code"}>
				{join.data ? (
					<p>
						Welcome, {join.data.name}. <Link to="/">Go to Today</Link>
					</p>
				) : (
					<form
						className={styles.form}
						onSubmit={(e) => {
							e.preventDefault();
							join.mutate();
						}}
					>
						<TextInput
							label="Code shown on the computer"
							required
							maxLength={40}
							autoCapitalize="characters"
							autoComplete="off"
							value={code}
							onChange={(e) => setCode(e.currentTarget.value)}
						/>
						<TextInput
							label="Your name or the phone's"
							maxLength={60}
							value={name}
							onChange={(e) => setName(e.currentTarget.value)}
						/>
						<Button type="submit" loading={join.isPending}>
							Join
						</Button>
					</form>
				)}
				<ProblemAlert error={join.error} />
			</Card>
			<Card title="Use it without a signal">
				<p>
					{opensAlone
						? "This device works without a connection. Entries are sent when the server answers again."
						: "Until the certificate is installed, opening this page needs a connection. An open page still saves every entry."}
				</p>
				{!opensAlone && (
					<>
						<Button component="a" href="/api/root.crt" variant="default">
							Download certificate
						</Button>
						<dl className={styles.systems}>
							{STEPS.map((s) => (
								<div key={s.name}>
									<dt>{s.name}</dt>
									<dd>{s.says}</dd>
								</div>
							))}
						</dl>
						<p>
							Install it only if its fingerprint matches the one on the computer. Then open this
							page again. Remove it when you no longer use this server.
						</p>
					</>
				)}
			</Card>
		</div>
	);
}
