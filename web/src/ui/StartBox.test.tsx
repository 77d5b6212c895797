import { MantineProvider } from "@mantine/core";
import { fireEvent, render, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { StartBox } from "./StartBox";

describe("the start of a trial", () => {
	it("asks about a start further back than the trial is long", () => {
		const onStart = vi.fn();
		render(
			<MantineProvider env="test">
				<StartBox isSowing={false} isBusy={false} lengthDays={21} onStart={onStart} />
			</MantineProvider>,
		);
		fireEvent.click(screen.getByText("Start trial"));
		const back = new Date(Date.now() - 399 * 86_400_000).toISOString().slice(0, 16);
		fireEvent.change(screen.getByLabelText(/When was it stuck/), { target: { value: back } });
		expect(screen.getByRole("alert").textContent).toContain("day 399 of 21");
		fireEvent.click(screen.getByRole("button", { name: /start now/ }));
		expect(onStart).toHaveBeenCalledOnce();
	});
});
