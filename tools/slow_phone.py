"""`make phone`: the page on a slow phone (4 x CPU throttle), and the server's memory over 10,000 requests.

Prints when the first screen of Today stands, how long a tap takes until its cell is painted, how many
frames a scroll over 96 cells has, and the server's resident memory before and after the requests.
"""

import http.client
import json
import re
import statistics
import tempfile
from itertools import pairwise
from pathlib import Path

from playwright.sync_api import Page, sync_playwright
from tests.cli.test_main import free_port, serve

from tools.chromium import FLAGS, chromium

REQUESTS = 10_000
TAPS = 20
HAND_MS = 600
"""From one plant to the next, by thumb."""
_PAINTED = """async (key) => {
    const cell = document.activeElement, says = () => cell.ariaLabel + cell.textContent, was = says();
    const before = performance.now();
    const shown = new Promise((at) => new MutationObserver((_, watch) => {
        if (says() === was) return;
        watch.disconnect();
        const { port1, port2 } = new MessageChannel();  // answers as soon as the frame is out
        port1.onmessage = () => at(performance.now() - before);
        requestAnimationFrame(() => port2.postMessage(null));
    }).observe(document.body, { subtree: true, childList: true, attributes: true, characterData: true }));
    cell.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
    return Promise.race([shown, new Promise((late) => setTimeout(late, 2000, null))]);
}"""
_TOUCHED = """() => { window.touched = new Promise((at) => addEventListener("pointerdown", (press) => {
    const key = press.target.closest("button");
    requestAnimationFrame(() => {
        const { port1, port2 } = new MessageChannel();
        const isSeen = getComputedStyle(key).boxShadow !== "none";
        port1.onmessage = () => at(isSeen ? performance.now() - press.timeStamp : null);
        port2.postMessage(null);
    });
}, { once: true })); }"""
_WATCHED = """window.painted = new Promise((at) => new MutationObserver((_, watch) => {
    const says = document.querySelector("h1")?.textContent ?? "";
    if (!/due today|Nothing/.test(says)) return;
    watch.disconnect();
    requestAnimationFrame(() => at(performance.now()));
}).observe(document, { subtree: true, childList: true, characterData: true }));"""
_SCROLLED = """async () => {
    const trays = document.querySelector("[data-cell]").closest("section, div[class*=trays]");
    const times = [];
    for (let i = 0; i < 60; i++) {
        window.scrollBy(0, 20);
        times.push(await new Promise(requestAnimationFrame));
    }
    return times;
}"""


def memory_mb(pid: int) -> float:
    """Resident memory of a process, MB."""
    found = re.search(r"VmRSS:\s+(\d+)", Path(f"/proc/{pid}/status").read_text())
    return int(found[1]) / 1000 if found else 0.0


def requests(port: int, many: int) -> None:
    """Ask for what pages ask for, over and over."""
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)

    def ask(path: str) -> bytes:
        connection.request("GET", path)
        return connection.getresponse().read()

    trials = [t["id"] for t in json.loads(ask("/api/trials")) if t["status"] == "started"]
    paths = ["/api/trials", "/api/today", "/api/form-book"]
    paths = paths * 40 + [f"/api/trials/{t}{part}" for t in trials for part in ("", "/finish")]
    for i in range(many):
        ask(paths[i % len(paths)])


def first_screen(page: Page, base: str) -> float:
    """Milliseconds from asking for Today until its first task is painted, by the page's own clock."""
    page.add_init_script(_WATCHED)
    page.goto(base)
    return float(page.evaluate("window.painted"))


def touch(page: Page, name: str) -> float | None:
    """Milliseconds from the touch of a key until the next frame is out; None where that does not show it pressed."""
    box = page.get_by_role("button", name=name).first.bounding_box()
    assert box
    point = {"x": box["x"] + box["width"] / 2, "y": box["y"] + box["height"] / 2}
    finger = page.context.new_cdp_session(page)
    page.evaluate(_TOUCHED)
    finger.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [point]})
    shown = page.evaluate("window.touched")
    finger.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
    return None if shown is None else float(shown)


def main() -> None:
    """Measure and print."""
    port = free_port()
    with tempfile.TemporaryDirectory() as folder:
        server = serve(Path(folder) / "demo", port, "demo")
        base = f"http://127.0.0.1:{port}"
        try:
            with sync_playwright() as p:
                browser = p.chromium.launch(executable_path=chromium(), args=FLAGS)
                first = []
                for _ in range(5):
                    for old in browser.contexts:
                        old.close()  # it would go on asking, on the same processor
                    phone = browser.new_context(
                        viewport={"width": 390, "height": 844}, has_touch=True
                    )
                    page = phone.new_page()
                    throttle = page.context.new_cdp_session(page)
                    throttle.send("Emulation.setCPUThrottlingRate", {"rate": 4})
                    first.append(first_screen(page, base))
                print(
                    f"first screen, 4 x throttled          {statistics.median(first):7.0f} ms   goal 1,500"
                )
                page.goto(f"{base}/trials")
                page.get_by_role("link", name=re.compile("^Lavender")).first.click()
                page.get_by_role("link", name="Rounds").click()
                page.locator("[data-cell]").first.wait_for()
                page.locator("[data-cell]").first.focus()
                touches = []
                for _ in range(TAPS):
                    touches.append(touch(page, "Callus"))
                    page.wait_for_timeout(HAND_MS)
                seen = [t for t in touches if t is not None]
                if len(seen) < TAPS:
                    raise SystemExit("A touched key is not shown as pressed in the next frame.")
                print(
                    f"a touch until its key is coloured    {statistics.median(seen):7.0f} ms   goal 16"
                )
                taps = []
                for _ in range(TAPS):
                    taps.append(page.evaluate(_PAINTED, "6"))
                    page.wait_for_timeout(HAND_MS)
                shown = [float(t) for t in taps if t is not None]
                print(
                    f"a tap until its cell is painted      {statistics.median(shown):7.0f} ms   goal 16"
                )
                times = page.evaluate(_SCROLLED)
                steps = [b - a for a, b in pairwise(times)]
                print(
                    f"a frame while scrolling, median      {statistics.median(steps):7.1f} ms   goal 16.7"
                )
                browser.close()
            before = memory_mb(server.pid)
            requests(port, REQUESTS // 10)
            warm = memory_mb(server.pid)
            requests(port, REQUESTS)
            print(
                f"server at start, warm, after {REQUESTS:,} requests: "
                f"{before:.0f}, {warm:.0f}, {memory_mb(server.pid):.0f} MB   goal 200, flat"
            )
        finally:
            server.terminate()
            server.wait()


if __name__ == "__main__":
    main()
