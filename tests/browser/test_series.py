"""Runs put together: chosen from the list, judged as one, refused where they are not alike."""

import json
import urllib.request
from collections.abc import Sequence

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults

RUNS = (("one", 10, 20), ("two", 12, 22), ("three", 9, 21), ("four", 8, 18), ("five", 11, 19))


def keep(server: str, name: str, arms: Sequence[tuple[str, int, int]]) -> str:
    """A table kept on the server: struck of 40 of each treatment."""
    lines = ["treatment,role,outcome,count,end_day"]
    for i, (arm, struck, stuck) in enumerate(arms):
        role = "candidate" if i else "control"
        lines += [f"{arm},{role},struck,{struck},42", f"{arm},{role},alive,{stuck - struck},42"]
    asked = urllib.request.Request(
        f"{server}/api/tables?name={name}", "\n".join(lines).encode(),
        {"Content-Type": "application/octet-stream", "Origin": server},
    )  # fmt: skip
    with urllib.request.urlopen(asked) as answer:
        return str(json.load(answer)["id"])


def test_five_runs_are_judged_as_one(page: Page, server: str) -> None:
    for name, untreated, treated in RUNS:
        keep(server, f"quince-{name}", [("Untreated", untreated, 40), ("Kelp", treated, 40)])
    page.goto(f"{server}/trials")
    page.get_by_role("link", name="Put runs together").click()
    expect(page.get_by_text("Choose two runs or more")).to_be_visible()
    for name, *_ in RUNS:
        page.get_by_label(f"quince-{name}").check()
    expect(
        page.get_by_role("heading", name="Kelp against Untreated: clearly ahead")
    ).to_be_visible()
    expect(page.get_by_text("No sign that the runs differ beyond chance.")).to_be_visible()
    expect(page.get_by_role("img", name="The next single run: ")).to_be_visible()
    expect(page.get_by_text("Are these all the runs")).to_be_visible()
    expect(page.get_by_role("img", name="Up to quince-five")).to_be_visible()
    assert axe_faults(page) == []
    page.reload()  # what was chosen stands in the address
    expect(page.get_by_label("quince-three")).to_be_checked()


def test_runs_that_are_not_alike_are_refused_with_the_reason(page: Page, server: str) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    one = keep(server, "fig-a", [("Untreated", 10, 40), ("IBA 1000", 20, 40)])
    two = keep(server, "fig-b", [("Untreated", 10, 40), ("IBA 3000", 25, 40)])
    page.goto(f"{server}/trials/together?run={one}&run={two}")
    expect(page.get_by_role("alert")).to_contain_text("fig-a and fig-b share no treatment")
    assert axe_faults(page) == []
