import { TextInput } from "@mantine/core";
import { useState } from "react";
import { useReference } from "@/ui/reference";
import { Waiting } from "@/ui/Waiting";
import styles from "./Glossary.module.css";

/** Every word of ours and of the statisticians that stands on a page, with one line on what it means. */
export function GlossaryPage() {
	const terms = useReference()?.terms;
	const [sought, setSought] = useState("");
	if (!terms) return <Waiting shape="list" />;
	const said = sought.trim().toLowerCase();
	const found = terms.filter((t) => `${t.name} ${t.meaning}`.toLowerCase().includes(said));
	const groups = [...new Set(found.map((t) => t.group))];
	return (
		<>
			<h1>Glossary</h1>
			<TextInput
				label="Search"
				type="search"
				className={styles.search}
				value={sought}
				onChange={(e) => setSought(e.currentTarget.value)}
			/>
			<p role="status" className="muted">
				{found.length === 0
					? `No term matches “${sought.trim()}”. Try fewer letters.`
					: `${found.length} of ${terms.length} terms`}
			</p>
			{groups.map((group) => (
				<section key={group}>
					<h2>{group}</h2>
					<dl className={styles.terms}>
						{found
							.filter((t) => t.group === group)
							.map((t) => (
								<div key={t.name}>
									<dt>{t.name}</dt>
									<dd>{t.meaning}</dd>
								</div>
							))}
					</dl>
				</section>
			))}
		</>
	);
}
