/** What a number field may hold. */
export interface Limits {
	min?: number;
	max?: number;
	/** Only whole numbers make sense here. */
	isWhole?: boolean;
}

export interface ReadNumber {
	value: number | null;
	/** What is wrong, in one sentence; nothing is taken then. */
	fault?: string;
}

const SIGNS: Record<string, string> = {
	"½": "1/2",
	"¼": "1/4",
	"¾": "3/4",
	"⅓": "1/3",
	"⅔": "2/3",
	"⅛": "1/8",
};

/** A number as people write it: 12.5, 12,5, ½, 1 1/2, −3. Anything else is said, never guessed. */
export function readNumber(written: string, limits: Limits = {}): ReadNumber {
	const text = written
		.replace(/[½¼¾⅓⅔⅛]/g, (c) => ` ${SIGNS[c]}`)
		.replace(/[−–]/g, "-")
		.replace(/[\u00a0\u202f\s]+/g, " ")
		.trim();
	if (text === "" || text === "-") return { value: null };
	const value = parsed(text);
	const { min, max, isWhole } = limits;
	if (value === "two readings") {
		return {
			value: null,
			fault: `“${written.trim()}” can mean two numbers: write it without the mark, or with a decimal point.`,
		};
	}
	if (value === null) {
		return {
			value: null,
			fault: `“${written.trim().slice(0, 30)}” is not a number, so it is not taken: write such as ${isWhole ? "12" : "12.5"}.`,
		};
	}
	if (isWhole && !Number.isInteger(value)) {
		return { value: null, fault: `${text} is not taken: write a whole number.` };
	}
	if (min !== undefined && value < min) {
		return { value: null, fault: `${text} is not taken: write ${min} or more.` };
	}
	if (max !== undefined && value > max) {
		return { value: null, fault: `${text} is not taken: write ${max} or less.` };
	}
	return { value };
}

function parsed(text: string): number | "two readings" | null {
	const fraction = /^(-?)(?:(\d+) )?(\d+) ?\/ ?(\d+)$/.exec(text);
	if (fraction) {
		const [, sign, whole, one, other] = fraction;
		if (Number(other) === 0) return null;
		return (sign ? -1 : 1) * (Number(whole ?? 0) + Number(one) / Number(other));
	}
	if (/^-?[1-9]\d{0,2},\d{3}$/.test(text)) return "two readings";
	if (/^-?\d{1,3}( \d{3})+([.,]\d+)?$/.test(text)) {
		return Number(text.replaceAll(" ", "").replace(",", "."));
	}
	if (/^-?\d{1,3}(,\d{3})+\.\d+$/.test(text)) return Number(text.replaceAll(",", ""));
	if (/^-?\d{1,3}(\.\d{3})+,\d+$/.test(text)) {
		return Number(text.replaceAll(".", "").replace(",", "."));
	}
	return /^-?(\d+[.,]?\d*|[.,]\d+)$/.test(text) ? Number(text.replace(",", ".")) : null;
}
