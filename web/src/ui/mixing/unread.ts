/** A line cut where it was not understood. Spans count characters, not UTF-16 halves of them. */
export function parted(
	line: string,
	spans: readonly (readonly [number, number] | number[])[],
): { at: number; text: string; isUnread: boolean }[] {
	const letters = Array.from(line);
	const unread = new Set<number>();
	for (const [from = 0, to = 0] of spans) for (let i = from; i < to; i++) unread.add(i);
	const out: { at: number; text: string; isUnread: boolean }[] = [];
	letters.forEach((letter, at) => {
		const last = out.at(-1);
		if (last && last.isUnread === unread.has(at)) last.text += letter;
		else out.push({ at, text: letter, isUnread: unread.has(at) });
	});
	return out;
}
