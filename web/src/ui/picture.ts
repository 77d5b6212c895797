/** A part of a page as a picture that stands by itself: SVG with its styles written in, or PNG. */

const SVG = "http://www.w3.org/2000/svg";
/** What a sheet of styles may say of a shape or a word. */
const STYLED = [
	"fill",
	"fill-opacity",
	"stroke",
	"stroke-width",
	"stroke-dasharray",
	"stroke-linecap",
	"stroke-linejoin",
	"opacity",
	"font-size",
	"font-weight",
	"text-anchor",
] as const;
const FONT = "system-ui, sans-serif";
const MARGIN = 16;

/** The drawings and the words of an element, as they stand on the page; what is not printed is left out. */
export function svgOf(element: HTMLElement): string {
	const box = element.getBoundingClientRect();
	const out = document.createElementNS(SVG, "svg");
	const below = element.querySelector(":scope > .no-print:last-child")?.clientHeight ?? 0;
	const [wide, high] = [box.width + 2 * MARGIN, box.height - below + 2 * MARGIN];
	set(out, { xmlns: SVG, width: wide, height: high, viewBox: `0 0 ${wide} ${high}` });
	const paper = document.createElementNS(SVG, "rect");
	set(paper, { width: wide, height: high, fill: getComputedStyle(element).backgroundColor });
	out.append(paper);
	const [left, top] = [box.left - MARGIN, box.top - MARGIN];
	for (const drawing of element.querySelectorAll("svg")) {
		if (drawing.closest(".no-print")) continue;
		const at = drawing.getBoundingClientRect();
		const copy = styled(drawing);
		set(copy, { x: at.left - left, y: at.top - top, width: at.width, height: at.height });
		out.append(copy);
	}
	const words = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
	for (let node = words.nextNode(); node; node = words.nextNode()) {
		const parent = node.parentElement;
		if (!parent || parent.closest("svg, .no-print")) continue;
		if (parent.getBoundingClientRect().width < 2) continue; // told to those who listen, not shown
		for (const line of linesOf(node)) out.append(written(line, parent, left, top));
	}
	return new XMLSerializer().serializeToString(out);
}

/** A copy of a drawing with the look of each part written into it. */
function styled(drawing: SVGSVGElement): SVGSVGElement {
	const copy = drawing.cloneNode(true) as SVGSVGElement;
	const [from, to] = [[...drawing.querySelectorAll("*")], [...copy.querySelectorAll("*")]];
	from.forEach((part, i) => {
		const look = getComputedStyle(part);
		for (const name of STYLED) to[i]?.setAttribute(name, look.getPropertyValue(name));
		to[i]?.setAttribute("font-family", FONT);
		for (const name of ["class", "style"]) to[i]?.removeAttribute(name);
	});
	copy.removeAttribute("class");
	copy.setAttribute("font-family", FONT);
	return copy;
}

interface Line {
	said: string;
	box: DOMRect;
}

/** The lines a run of words is broken into on the page. */
function linesOf(node: Node): Line[] {
	const lines: Line[] = [];
	const range = document.createRange();
	for (const word of (node.textContent ?? "").matchAll(/\S+/g)) {
		range.setStart(node, word.index);
		range.setEnd(node, word.index + word[0].length);
		const box = range.getBoundingClientRect();
		const last = lines.at(-1);
		if (last && Math.abs(last.box.top - box.top) < 2) {
			last.said += ` ${word[0]}`;
			last.box = new DOMRect(last.box.x, last.box.y, box.right - last.box.x, box.height);
		} else lines.push({ said: word[0], box });
	}
	return lines;
}

function written(line: Line, parent: Element, left: number, top: number): SVGTextElement {
	const look = getComputedStyle(parent);
	const text = document.createElementNS(SVG, "text");
	set(text, {
		x: line.box.left - left,
		y: line.box.top - top + 0.76 * line.box.height,
		textLength: line.box.width,
		lengthAdjust: "spacingAndGlyphs",
		fill: look.color,
		"font-size": look.fontSize,
		"font-weight": look.fontWeight,
		"font-family": FONT,
	});
	text.textContent = line.said;
	return text;
}

function set(part: Element, values: Record<string, string | number>): void {
	for (const [name, value] of Object.entries(values)) part.setAttribute(name, `${value}`);
}

/** Hands a picture to the browser to keep, as it is. */
export function keepSvg(svg: string, name: string): void {
	const url = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
	keep(url, `${name}.svg`);
	URL.revokeObjectURL(url);
}

/** Turns a picture into a PNG, two pixels a point, and hands it to the browser to keep. */
export async function keepPng(svg: string, name: string): Promise<void> {
	const image = new Image();
	const url = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
	image.src = url;
	await image.decode();
	const canvas = document.createElement("canvas");
	canvas.width = 2 * image.naturalWidth;
	canvas.height = 2 * image.naturalHeight;
	const pen = canvas.getContext("2d");
	if (!pen) throw new Error("This browser cannot make a picture: take the SVG.");
	pen.fillStyle = "#fff";
	pen.fillRect(0, 0, canvas.width, canvas.height);
	pen.drawImage(image, 0, 0, canvas.width, canvas.height);
	URL.revokeObjectURL(url);
	keep(canvas.toDataURL("image/png"), `${name}.png`);
}

function keep(address: string, name: string): void {
	const link = document.createElement("a");
	link.href = address;
	link.download = name;
	link.click();
}
