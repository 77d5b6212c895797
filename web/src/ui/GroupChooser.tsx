import { SegmentedControl } from "@mantine/core";
import styles from "./GroupChooser.module.css";
import { SilkSquare } from "./SilkSquare";

/** Which treatments stand in the first group and which in the one it is compared with, by their numbers. */
export interface Groups {
	one: number[];
	zero: number[];
}

export interface GroupChooserProps {
	treatments: readonly { name: string; silk?: string }[];
	groups: Groups;
	onChange: (groups: Groups) => void;
}

/** Each treatment goes to the first group, the second, or neither. */
export function GroupChooser({ treatments, groups, onChange }: GroupChooserProps) {
	const put = (i: number, where: string) =>
		onChange({
			one:
				where === "one"
					? [...groups.one.filter((x) => x !== i), i]
					: groups.one.filter((x) => x !== i),
			zero:
				where === "zero"
					? [...groups.zero.filter((x) => x !== i), i]
					: groups.zero.filter((x) => x !== i),
		});
	return (
		<ul className={styles.list}>
			{treatments.map((t, i) => (
				<li key={t.name}>
					<span className={styles.name}>
						<SilkSquare id={t.silk ?? "plain"} size={18} /> <span dir="auto">{t.name}</span>
					</span>
					<SegmentedControl
						size="xs"
						className={styles.choice}
						aria-label={`Group of ${t.name}`}
						value={groups.one.includes(i) ? "one" : groups.zero.includes(i) ? "zero" : ""}
						onChange={(where) => put(i, where)}
						data={[
							{ value: "one", label: "first" },
							{ value: "zero", label: "second" },
							{ value: "", label: "neither" },
						]}
					/>
				</li>
			))}
		</ul>
	);
}
