/** A seed of 128 bits from the browser's own source of chance. */
export function newSeed(): string {
	const bytes = crypto.getRandomValues(new Uint8Array(16));
	return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}
