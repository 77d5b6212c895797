"""The form book in the browser: found, filtered, one plant's page, and a repeat to the joint verdict."""

import json
import re
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from racecard.api.standings import lines_of_all
from racecard.store.engine import Shed
from racecard.store.form_book import form_book
from racecard.store.trials import create_trial
from tests.browser.conftest import axe_faults, unfold
from tests.builders import a_plan
from tests.cli.test_main import free_port, serve


@pytest.fixture
def book(page: Page, server: str) -> Page:
    page.goto(f"{server}/form-book")
    expect(page.get_by_role("heading", name="Form book")).to_be_visible()
    expect(page.get_by_text("still to be read")).to_have_count(0, timeout=60_000)
    return page


def test_lines_are_found_by_words_and_filters_and_back_brings_them_again(book: Page) -> None:
    lines = book.get_by_role("listitem").filter(has=book.get_by_role("heading"))
    expect(book.get_by_text(re.compile(r"everything tried here: \d+ trials"))).to_be_visible()
    book.get_by_label("Search").fill("soak")
    expect(book.get_by_text(re.compile(r"\d+ trials? found"))).to_be_visible()
    expect(lines.filter(has_text="warm soak")).not_to_have_count(0)
    expect(lines.filter(has_text="Olive")).to_have_count(0)
    book.get_by_label("Search").fill("no such thing")
    book.get_by_role("button", name="Clear search and filters").click()
    unfold(book, "More filters")
    book.get_by_label("Verdict").select_option("clear_lead")
    expect(lines.first).to_contain_text("clearly ahead")
    book.get_by_label("Plant").select_option("Olive")
    expect(book).to_have_url(re.compile("plant=Olive"))
    book.get_by_role("link", name=re.compile("Best known way with olive")).click()
    expect(book.get_by_role("heading", name="Olive: the best known way")).to_be_visible()
    together = re.compile(r"IBA 3000 ppm: together \+\d+ points \(.+ to .+\), from 3 trials")
    expect(book.get_by_role("heading", name=together)).to_be_visible()
    assert axe_faults(book) == []
    book.get_by_role("link", name="IBA 3000 ppm").first.click()
    expect(book.get_by_text("Compared with its control in 3 trials")).to_be_visible()
    expect(book.get_by_role("link", name="IBA 1000 ppm")).to_be_visible()
    assert axe_faults(book) == []
    book.goto(f"{book.url.split('/form-book')[0]}/form-book/treatment?name=no+such+thing")
    expect(book.get_by_text("No finished trial here has compared no such thing.")).to_be_visible()
    for _ in range(3):
        book.go_back()
    expect(book.get_by_label("Plant")).to_have_value("Olive")
    assert axe_faults(book) == []


PLANTS = ("Olive", "Camellia", "Rosemary", "Lavender", "Hebe")


def insert(db: sqlite3.Connection, table: str, rows: list[dict[str, Any]]) -> None:
    holes = ", ".join(f":{name}" for name in rows[0])
    db.executemany(f"INSERT INTO {table} ({', '.join(rows[0])}) VALUES ({holes})", rows)


@pytest.fixture
def long_book(tmp_path: Path) -> Iterator[str]:
    """A server whose book has 5,000 finished trials: one trial and its line, copied with other names."""
    shed = Shed(tmp_path / "long")
    trial = create_trial(shed, a_plan(question="Trial 0"), 1, "me")
    form_book(shed, patience_s=60)
    lines_of_all(shed)
    shed.close()
    with closing(sqlite3.connect(tmp_path / "long" / "racecard.sqlite3")) as db, db:
        db.row_factory = sqlite3.Row
        row = dict(db.execute("SELECT * FROM trial WHERE id = ?", (trial.id,)).fetchone())
        line = json.loads(db.execute("SELECT line FROM form_line").fetchone()["line"])
        result = {"name": "IBA", "grade": "clear_lead", "gap": 0.4, "low": 0.1, "high": 0.6}
        copies = [
            (f"{i:032x}", f"Trial {i}: {PLANTS[i % 5].lower()} with IBA", PLANTS[i % 5])
            for i in range(1, 5000)
        ]
        insert(db, "trial", [row | {"id": id_, "question": says} for id_, says, _ in copies])
        known = dict(db.execute("SELECT * FROM summary").fetchone())
        insert(db, "summary", [known | {"trial_id": id_} for id_, _, _ in copies])
        more = {"state": "finished", "best": result, "tried": [result]}
        lines = [
            (id_, json.dumps(line | more | {"trial": id_, "question": says, "plant": plant}))
            for id_, says, plant in copies
        ]
        insert(
            db, "form_line", [{"trial_id": id_, "day": None, "line": told} for id_, told in lines]
        )
    port = free_port()
    process = serve(tmp_path / "long", port)
    yield f"http://127.0.0.1:{port}"
    process.terminate()
    process.wait()


def test_five_thousand_trials_are_searched_and_filtered(page: Page, long_book: str) -> None:
    page.goto(f"{long_book}/form-book")
    expect(page.get_by_text("everything tried here: 5,000 trials")).to_be_visible()
    page.get_by_label("Search").fill("trial 4321")
    expect(page.get_by_text("1 trial found")).to_be_visible()
    expect(page.get_by_role("heading", name="Trial 4321: camellia with IBA")).to_be_visible()
    page.get_by_label("Search").fill("")
    unfold(page, "More filters")
    page.get_by_label("Plant").select_option("Hebe")
    expect(page.get_by_text("1,000 trials found")).to_be_visible()
    assert axe_faults(page) == []


def test_the_whole_book_goes_out_and_comes_into_an_empty_server_once(
    book: Page, empty_server: str, tmp_path: Path
) -> None:
    with book.expect_download() as sent:
        book.get_by_role("link", name="Everything as one file").click()
    file = tmp_path / "book.json"
    sent.value.save_as(file)
    book.goto(f"{empty_server}/form-book")
    for said in (re.compile(r"^\d+ trials and \d+ imported tables? were added\."), "Nothing new."):
        with book.expect_file_chooser() as chooser:
            book.get_by_role("button", name="Import such a file").click()
        chooser.value.set_files(file)
        expect(book.get_by_text(said)).to_be_visible()
    expect(
        book.get_by_role("link", name="Lavender: does a hormone earn its place?")
    ).to_be_visible()
    assert axe_faults(book) == []
    (tmp_path / "wrong.json").write_text("{}")
    with book.expect_file_chooser() as chooser:
        book.get_by_role("button", name="Import such a file").click()
    chooser.value.set_files(tmp_path / "wrong.json")
    expect(book.get_by_role("alert")).to_contain_text("This is not a form book file")


def test_a_repeat_says_what_it_changes_and_leads_to_the_joint_verdict(book: Page) -> None:
    book.get_by_label("Plant").select_option("Olive")
    book.get_by_role("link", name=re.compile("^Olive")).first.click()
    runs = book.get_by_role("region", name="Runs of this plan").or_(
        book.locator("section").filter(has=book.get_by_role("heading", name="Runs of this plan"))
    )
    expect(runs.first).to_contain_text("a further run, which can be put together")
    book.get_by_label("Shortest root that counts, mm").fill("5")
    book.get_by_role("button", name="Save changes").click()
    expect(runs.first).to_contain_text("One thing is changed")
    book.get_by_role("link", name="See 3 runs together").click()
    expect(
        book.get_by_role("heading", name=re.compile("IBA 3000 ppm against Untreated"))
    ).to_be_visible()
    expect(book.get_by_text("Further runs like these").first).to_be_visible()


def test_the_planner_offers_the_rate_of_one_s_own_controls(book: Page, server: str) -> None:
    book.goto(f"{server}/trials/new/details")
    book.get_by_label("Plants", exact=True).fill("olive cuttings, semi-ripe")
    offer = book.get_by_role("button", name=re.compile(r"^use \d+ %$")).first
    expect(book.get_by_text("Your own controls:")).to_be_visible()
    offer.click()
    expect(book.get_by_label("Usual strike rate of the control, %")).not_to_have_value("50")


def test_on_a_phone_it_is_reached_from_below_and_fits(page: Page, server: str) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(server)
    page.get_by_role("contentinfo").get_by_role("link", name="Form book").click()
    expect(page.get_by_role("heading", name="Form book")).to_be_visible()
    wide = page.evaluate("document.documentElement.scrollWidth > innerWidth")
    assert not wide
    assert axe_faults(page) == []


def test_the_library_is_searched_and_reached_from_where_it_matters(page: Page, server: str) -> None:
    page.goto(f"{server}/mixing")
    page.get_by_role("link", name="Usual strengths").click()
    expect(page.get_by_role("heading", name="Rooting hormones")).to_be_in_viewport()
    expect(page.get_by_text("your own controls").first).to_be_attached()
    page.get_by_label("Search").fill("seaweed")
    expect(page.get_by_role("row", name=re.compile("seaweed extract"))).to_be_visible()
    expect(page.get_by_role("heading", name="Rooting hormones")).to_have_count(0)
    page.get_by_label("Search").fill("orchid moon")
    expect(page.get_by_text("Nothing in the library holds")).to_be_visible()


def test_a_scorer_is_tried_with_drawn_roots_by_keyboard(page: Page, server: str) -> None:
    page.goto(f"{server}/library/trainer")
    page.get_by_role("button", name="Start: 24 drawings").click()
    expect(page.get_by_role("heading", name="Drawing 1 of 24")).to_be_visible()
    assert axe_faults(page) == []
    page.keyboard.press("4")
    expect(page.get_by_role("heading", name="Drawing 2 of 24")).to_be_visible()
    page.keyboard.press("Backspace")
    expect(page.get_by_role("heading", name="Drawing 1 of 24")).to_be_visible()
    for i in range(24):
        page.keyboard.press(str(i % 6))
    expect(page.get_by_role("heading", name=re.compile("of 24 exactly right"))).to_be_visible()
    expect(page.get_by_text(re.compile("marks were exactly right"))).to_be_visible()
    assert axe_faults(page) == []
    page.goto(f"{server}/library/trainer")
    expect(page.get_by_text(re.compile("marks were exactly right"))).to_be_visible()
