"""Takes the pictures in docs/screenshots from a running demo: python -m tools.screenshots [address]."""

import json
import re
import sys
import urllib.request
from datetime import date, timedelta
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from racecard.standins.gardens import played_form
from tools.chromium import FLAGS, chromium

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"

LINE = "Does seaweed or coconut water root rosemary better than plain water?"
DESK, TALL, PHONE = (1280, 800), (1280, 1180), (390, 844)


def shoot(page: Page, name: str, path: str, size: tuple[int, int]) -> None:
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.goto(path)
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(300)
    page.screenshot(path=FOLDER / f"{name}.png")


def main(base: str) -> None:
    with urllib.request.urlopen(f"{base}/api/trials") as answer:
        trials = {re.split(r"\W", t["question"])[0]: t["id"] for t in json.load(answer)}
    lavender, pea = f"{base}/trials/{trials['Lavender']}", f"{base}/trials/{trials['Sweet']}"
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=chromium(), args=FLAGS)
        page = browser.new_page(locale="en-GB", reduced_motion="reduce")
        shoot(page, "today", base, DESK)
        camellia, rosemary = (f"{base}/trials/{trials[name]}" for name in ("Camellia", "Rosemary"))
        shoot(page, "plan", f"{camellia}/plan", TALL)
        page.goto(f"{base}/trials/new")
        page.get_by_role("textbox").first.fill(LINE)
        page.get_by_label("Cuttings, seeds or bulbs").fill("12")
        page.get_by_label("How many can stand apart?").fill("3")
        page.get_by_label("They stand in").select_option("jar")
        page.get_by_text("Not with 3 jars").wait_for()
        page.wait_for_timeout(300)
        page.screenshot(path=FOLDER / "start.png")
        shoot(page, "round", f"{lavender}/rounds/24", DESK)
        shoot(page, "round-phone", f"{lavender}/rounds/24", PHONE)
        shoot(page, "looks", f"{lavender}/looks", DESK)
        shoot(page, "photos", f"{pea}/photos", DESK)
        shoot(page, "conditions", f"{pea}/conditions", DESK)
        page.goto(f"{lavender}/rounds/42")
        page.get_by_role("button", name="Lift and score").click()
        page.wait_for_timeout(300)
        page.screenshot(path=FOLDER / "lift.png")
        shoot(page, "finish", f"{lavender}/finish", TALL)
        shoot(page, "finish-bad", f"{rosemary}/finish", TALL)
        page.set_viewport_size({"width": TALL[0], "height": TALL[1]})
        page.goto(f"{base}/trials/gardens")
        form = played_form(40, 0.3, faults=True, seed=1, first=date.today() - timedelta(days=75))
        sent = {"name": "sills.csv", "mimeType": "text/csv", "buffer": form.encode()}
        page.locator("input[type=file]").set_input_files(sent)
        page.get_by_label("Column of treatment 1").select_option("Warm soak")
        page.get_by_label("Column of treatment 2").select_option("Dry")
        page.get_by_label("How many of each").select_option("Seeds in each")
        page.get_by_text("of 40 gardens are compared").wait_for()
        page.screenshot(path=FOLDER / "gardens.png")
        for _ in range(30):  # lines are read a few at a time
            with urllib.request.urlopen(f"{base}/api/form-book") as answer:
                if not json.load(answer)["waiting"]:
                    break
        shoot(page, "form-book", f"{base}/form-book?plant=Olive", DESK)
        shoot(page, "plant", f"{base}/form-book/plant?plant=Lavender", DESK)
        shoot(page, "library", f"{base}/library#cuttings", DESK)
        page.set_viewport_size({"width": TALL[0], "height": TALL[1]})
        page.goto(f"{base}/dry-run")
        page.get_by_role("checkbox", name=re.compile("Camellia as planned")).check(timeout=120_000)
        page.get_by_role("slider").first.wait_for()
        page.screenshot(path=FOLDER / "dry-run.png")
        shoot(page, "prepare", f"{lavender}/prepare", TALL)
        line = "250%20mL%20of%201500%20ppm%20IBA%20from%201%20%25%20stock"
        shoot(page, "mixing", f"{base}/mixing?line={line}", DESK)
        page.set_viewport_size({"width": TALL[0], "height": TALL[1]})
        page.goto(f"{base}/trials/read-in")
        page.locator("input[type=file]").last.set_input_files("docs/examples/results.csv")
        page.get_by_text("Seaweed is likely ahead").first.wait_for()
        page.screenshot(path=FOLDER / "read-in.png")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8620")
