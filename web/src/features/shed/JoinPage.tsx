import { Button, TextInput } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { api, body } from "@/api/client";
import { Card } from "@/ui/Card";
import { ProblemAlert } from "@/ui/ProblemAlert";
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
			<h1>Join the shed</h1>
			<Card title={join.data ? "This device has joined" : "The code"}>
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
							label="Code shown on the shed’s machine"
							required
							maxLength={40}
							autoCapitalize="characters"
							autoComplete="off"
							value={code}
							onChange={(e) => setCode(e.currentTarget.value)}
						/>
						<TextInput
							label="Your name, or the phone’s"
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
			<Card title="Open it without signal, too">
				<p>
					{opensAlone
						? "This device holds the page: it opens without the shed, and sends what you tap when the shed is back."
						: "Until the shed’s root is trusted here, opening or reloading the page needs the shed. An open page still keeps every tap."}
				</p>
				{!opensAlone && (
					<>
						<Button component="a" href="/api/root.crt" variant="default">
							Take the shed’s root certificate
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
							Trust it only if its fingerprint is the one shown on the shed’s machine. Then open
							this page anew. Take it off again when you no longer use this shed.
						</p>
					</>
				)}
			</Card>
		</div>
	);
}
