"""Axe finds nothing on any screen, at both sizes, by day and by night; targets fit a thumb."""

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults, loaded
from tests.browser.test_journeys import open_demo, start, start_blind

SCREENS = (
    "today",
    "trials",
    "new",
    "frozen",
    "round",
    "counts",
    "finish",
    "running",
    "sealed",
    "draft",
    "compare",
    "mixing",
    "glossary",
    "sum",
    "shelf",
    "defaults",
    "prepare",
    "clock",
    "paper",
    "log",
    "conditions",
    "photos",
    "look-sheet",
    "lift",
    "beside",
    "shed",
    "join",
    "dry-run",
    "races",
    "read-in",
    "library",
    "form-book",
    "plant-book",
    "treatment-book",
)


def show(
    page: Page, server: str, send: Callable[[str, object], dict[str, Any]], screen: str
) -> None:
    """Opens a screen and waits for what makes it whole."""
    if screen in ("today", "trials", "new"):
        page.goto(
            server + {"today": "/", "trials": "/trials", "new": "/trials/new/details"}[screen]
        )
        heading = {"today": "due today", "trials": "trial", "new": "What this plan can show"}[
            screen
        ]
    elif screen in ("mixing", "sum", "shelf", "defaults"):
        line = "?line=1%20tbsp%20per%20litre%20in%20250%20mL" if screen == "mixing" else ""
        page.goto(f"{server}/mixing{'' if line else '/' + screen.replace('sum', 'dilute')}{line}")
        heading = {"mixing": "Amount per litre", "sum": "Dilute a stock", "shelf": "Agents"}.get(screen, "Defaults")  # fmt: skip
        if screen == "sum":
            expect(page.get_by_text("37.5 mL").first).to_be_visible()
    elif screen in ("prepare", "clock", "paper"):
        page.goto(f"{server}/trials")
        name = "Continue planning: Camellia" if screen == "clock" else "See results: Lavender"
        page.get_by_role("link", name=name).click()
        page.get_by_role("link", name="Prepare").click()
        heading = "Soak schedule"
        if screen == "paper":
            page.get_by_role("link", name="Print sheets", exact=True).click()
            heading = "Tray plan"
    elif screen in ("log", "conditions", "photos", "look-sheet"):
        open_demo(page, server, "Sweet pea")
        page.get_by_role("link", name="Rounds").click()
        part = {"log": "Log", "conditions": "Conditions", "photos": "Photos"}
        page.get_by_role("link", name=part.get(screen, "Paper sheet"), exact=True).click()
        titles = {
            "log": "Log",
            "conditions": "Temperature, cold",
            "photos": "Day 6",
        }
        heading = titles.get(screen, "Enter a filled sheet")
    elif screen in ("lift", "beside"):
        page.goto(f"{server}/trials/{start(send, 3)}/rounds/3")
        button = "Lift and score" if screen == "lift" else "Event"
        page.get_by_role("button", name=re.compile(f"^{button}")).click()
        heading = "Round of day" if screen == "lift" else "Beside the look"
    elif screen in ("glossary", "library"):
        page.goto(f"{server}/{screen}")
        heading = screen.capitalize()
    elif screen in ("shed", "join"):
        page.goto(f"{server}/{screen}")
        heading = "Phones" if screen == "shed" else "Connect this device"
    elif screen in ("form-book", "plant-book", "treatment-book"):
        tail, heading = {
            "form-book": ("", "Form book"),
            "plant-book": ("/plant?plant=Olive", "Nobody here has tried"),
            "treatment-book": ("/treatment?name=Warm+soak", "How to read this"),
        }[screen]
        page.goto(f"{server}/form-book{tail}")
    elif screen in ("dry-run", "races", "read-in"):
        paths = {"dry-run": "/dry-run", "races": "/dry-run/races", "read-in": "/trials/read-in"}
        page.goto(server + paths[screen])
        if screen == "dry-run":
            page.get_by_label("Plan", exact=True).select_option(index=1)
        heading = {
            "dry-run": "Dry run",
            "races": "Rooted: first seen|Real or chance|Roots first seen",
            "read-in": "Check a summary",
        }[screen]
    elif screen == "sealed":
        page.goto(f"{server}/trials/{start_blind(page, server, send, 3)}/finish")
        heading = "Treatments hidden"
    elif screen in ("draft", "compare"):
        page.goto(f"{server}/trials")
        page.get_by_role("link", name="Continue planning: Camellia").click()
        heading = "Are the plants alike at the start"
        if screen == "compare":
            loaded(page)  # nothing moves any more under the click
            page.get_by_role("link", name="Compare with another plan").click()
            page.get_by_label("Other plan", exact=True).select_option(index=1)
            heading = "Compare two plans"
            expect(page.get_by_text(re.compile("They differ in"))).to_be_visible()
    elif screen == "round":
        page.goto(f"{server}/trials/{start(send, 3)}/rounds")
        heading = "Round of day"
    else:
        open_demo(page, server, "Lavender" if screen in ("frozen", "finish") else "Sweet pea")
        if screen == "frozen":
            page.get_by_role("link", name="Plan", exact=True).click()
        elif screen == "counts":
            page.get_by_role("link", name="Rounds").click()
        elif screen == "running":
            page.get_by_role("link", name="Finish").click()
        heading = {"frozen": "Bench", "counts": "Round of day"}.get(screen, "How sure is that?")
    expect(page.get_by_role("heading", name=re.compile(heading)).first).to_be_visible()
    loaded(page)


@pytest.mark.parametrize("screen", SCREENS)
def test_no_violation_by_axe_at_the_desk_zoomed_and_by_night_on_the_phone(
    page: Page, server: str, send: Callable[[str, object], dict[str, Any]], screen: str
) -> None:
    """One page through day and night, desk and phone; half a desk is what 200 % zoom leaves, a quarter 400 %."""
    show(page, server, send, screen)
    assert axe_faults(page) == []
    for width in (640, 320, 390):
        page.set_viewport_size({"width": width, "height": 844})
        wide = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
        assert wide <= 0, f"the page scrolls sideways at {width}"
    page.evaluate("document.documentElement.dataset.mantineColorScheme = 'dark'")
    assert axe_faults(page) == []


SMALL = """all => all.filter(b => {
    const box = b.getBoundingClientRect();
    return Math.min(box.width, box.height) < 48;
}).map(b => b.innerText)"""


@pytest.mark.parametrize("screen", ["round", "counts"])
def test_keys_on_the_phone_fit_a_thumb(
    page: Page, server: str, send: Callable[[str, object], dict[str, Any]], screen: str
) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    show(page, server, send, screen)
    panel = page.get_by_role("complementary")
    expect(panel.get_by_role("button").first).to_be_visible()
    # on a busy machine the window is seen to take its size after the page stands
    expect(page.locator("body")).to_have_js_property("clientWidth", 390)
    small = panel.get_by_role("button").evaluate_all(SMALL)  # at once: none may go meanwhile
    assert small == []
    cell = page.locator("[aria-current=true][data-cell]").bounding_box()
    top = panel.bounding_box()
    assert cell is not None
    assert top is not None
    assert cell["y"] + cell["height"] <= top["y"] + 1, "the panel covers the cursor"


def test_the_open_method_card_is_accessible(page: Page, server: str) -> None:
    open_demo(page, server, "Lavender")
    page.get_by_role("button", name="Difference +50 points. Why?").click()
    expect(page.get_by_role("dialog")).to_be_visible()
    assert axe_faults(page) == []
