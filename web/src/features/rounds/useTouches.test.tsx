import { act, fireEvent } from "@testing-library/react";
import { useRef } from "react";
import { afterEach, expect, it, vi } from "vitest";
import { button, clearAway, show } from "@/testing";
import { useTouches } from "./useTouches";

function Desk() {
	const whole = useRef<HTMLDivElement>(null);
	useTouches(whole);
	return (
		<div ref={whole}>
			<button type="button">
				<b>Callus</b>
			</button>
			<p>A plant</p>
		</div>
	);
}

const isPressed = () => button("Callus").hasAttribute("data-touched");

afterEach(clearAway);

it.each([
	["a tap stays seen until its plant is drawn", "pointerup", true],
	["a finger that scrolls pressed nothing", "pointercancel", false],
])("%s", (_, end, isSeen) => {
	vi.useFakeTimers();
	const { getByText } = show(<Desk />);
	fireEvent.pointerDown(getByText("Callus"));
	expect(isPressed()).toBe(true);
	fireEvent(window, new Event(end));
	act(() => vi.advanceTimersByTime(1));
	expect(isPressed()).toBe(isSeen);
	act(() => vi.advanceTimersByTime(500));
	expect(isPressed()).toBe(false);
	vi.useRealTimers();
});
