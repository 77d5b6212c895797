import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { keep } from "@/api/outbox";
import { button, clearAway, show, startFresh } from "@/testing";
import { PhotoView, type PhotoViewProps } from "./PhotoView";

vi.mock("@/api/outbox", async (whole) => ({
	...(await whole<typeof import("@/api/outbox")>()),
	keep: vi.fn(),
}));

const PHOTO = {
	entry: { id: "p", scope: "unit", target: "A1", day: 3, seen_at: "2026-05-04T09:00:00Z" },
	traces: [
		{
			id: "t1",
			who: "grower",
			says: "longest 21 mm, 3 roots",
			longest: 21,
			roots: 3,
			measure: null,
			is_current: true,
			marks: JSON.stringify({ scale: [], known_mm: 10, lines: [] }),
		},
	],
} as unknown as PhotoViewProps["photo"];

beforeEach(startFresh);
afterEach(clearAway);

describe("lengths traced on a photo", () => {
	it("are said to be unsaved where this device cannot keep them, until it can", async () => {
		vi.mocked(keep).mockRejectedValueOnce(new Error("This device is full."));
		show(
			<PhotoView
				trialId="t"
				photo={PHOTO}
				src="data:image/gif;base64,R0lGODlhAQABAAAAACw="
				alt="A1"
			/>,
		);
		fireEvent.click(button("Save as data"));
		await screen.findByText("This device is full.");
		vi.mocked(keep).mockResolvedValueOnce();
		fireEvent.click(button("Save as data"));
		await waitFor(() => expect(screen.queryByText("This device is full.")).toBeNull());
		const [, day, sent] = vi.mocked(keep).mock.calls[1] ?? [];
		expect(day).toBe(3);
		expect(sent).toMatchObject({ kind: "entry", item: { what: "t1", values: { longest: 21 } } });
	});
});
