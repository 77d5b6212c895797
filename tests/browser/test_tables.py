"""Reading a table in, with the page as a grower meets it."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults
from tests.reference_data import orobanche_csv


def upload(page: Page, server: str, name: str, content: bytes, folder: Path) -> None:
    path = folder / name
    path.write_bytes(content)
    page.goto(f"{server}/trials")
    page.get_by_role("link", name="Import results").click()
    page.locator("input[type=file]").set_input_files(path)


def test_published_plates_are_read_in_judged_and_kept(
    page: Page, server: str, tmp_path: Path
) -> None:
    """Crowder (1978): the container-level p over both seed lots, 0.00176939, not the naive one."""
    upload(page, server, "plates.csv", orobanche_csv(), tmp_path)
    expect(page.get_by_text("148 of 395 struck in 10 containers")).to_be_visible()
    page.get_by_role("button", name="cucumber: clearly ahead. Why?").click()
    expect(page.get_by_role("dialog")).to_contain_text("p 0.002")
    expect(page.get_by_role("dialog")).to_contain_text("every assignment counted")
    page.keyboard.press("Escape")
    page.get_by_label("What was randomised").select_option("propagule")
    expect(page.get_by_role("region", name="cucumber")).to_contain_text("cannot tell")
    page.get_by_label("What was randomised").select_option("container")
    expect(page.get_by_role("region", name="cucumber")).to_contain_text("clearly ahead")
    page.get_by_label("Name").fill("Twenty-one plates")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("heading", name="Twenty-one plates")).to_be_visible()
    page.get_by_role("link", name="Trials").click()
    page.get_by_role("link", name="Twenty-one plates").click()
    expect(page.get_by_text("Cucumber is clearly ahead").first).to_be_visible()
    page.get_by_role("button", name="Delete table").click()
    expect(page.get_by_role("link", name="Twenty-one plates")).to_have_count(0)


def test_bad_rows_are_told_and_may_be_left_out(page: Page, server: str, tmp_path: Path) -> None:
    rows = "treatment,role,outcome,day_from,day_to\nU,control,alive,,\nA,,struck,9,6\nA,,struck,3,6"
    upload(page, server, "bad.csv", rows.encode(), tmp_path)
    expect(page.get_by_text("Row 3, day_to: must come after day_from, 9")).to_be_visible()
    expect(page.get_by_role("button", name="Save", exact=True)).to_have_count(0)
    page.get_by_role("button", name="Leave row 3 out").click()
    expect(page.get_by_role("region", name="The answer")).to_contain_text("This trial c")


def test_counts_typed_as_in_a_message_are_judged_as_one_types(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/read-in")
    page.get_by_label("Counts or rows").fill("control 4 of 24, honey 19 of 24")
    answer = page.get_by_role("region", name="The answer")
    expect(answer).to_contain_text("Honey is clearly ahead: 19 of 24 struck")
    page.get_by_label("Counts or rows").fill("control 4 of 24, honey about 19")
    expect(page.get_by_role("alert")).to_contain_text("“honey about 19” is not understood")
    expect(answer).to_have_count(0)
    page.get_by_label("Counts or rows").fill(
        "treatment\tn\trooted\nControl\t24\t4\nHoney\t24\t19\nTotal\t48\t23"
    )
    expect(page.get_by_text("Row 4 (“Total”) is a total of rows above")).to_be_visible()
    expect(answer).to_contain_text("Honey is clearly ahead")
    page.get_by_label("Counts or rows").fill("")
    expect(answer).to_have_count(0)
    page.get_by_label("Counts or rows").fill("Control 4 of 24, Honey 19 of 24")
    page.get_by_label("Name").fill("Typed honey")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Typed honey")).to_be_visible()
    expect(page.get_by_text("Honey is clearly ahead").first).to_be_visible()


def test_what_is_no_table_is_said_on_the_page(page: Page, server: str, tmp_path: Path) -> None:
    upload(page, server, "picture.csv", b"\x89PNG\r\n\x1a\n\x00\x00", tmp_path)
    expect(page.get_by_role("alert")).to_contain_text("This is not a table")


@pytest.mark.parametrize("size", [(1280, 800), (390, 844)], ids=["desk", "phone"])
def test_the_preview_is_accessible(
    page: Page, server: str, tmp_path: Path, size: tuple[int, int]
) -> None:
    page.set_viewport_size({"width": size[0], "height": size[1]})
    example = Path("docs/examples/results.csv").read_bytes()
    upload(page, server, "results.csv", example, tmp_path)
    expect(page.get_by_role("region", name="The answer")).to_contain_text("Seaweed is likely ahead")
    assert axe_faults(page) == []
    assert page.evaluate("document.documentElement.scrollWidth - window.innerWidth") <= 0


def test_a_trial_offers_its_results_as_a_table(page: Page, server: str) -> None:
    page.goto(f"{server}/trials")
    page.get_by_role("link", name="Lavender: does a hormone").first.click()
    with page.expect_download() as taken:
        page.get_by_role("link", name="Export results as CSV").click()
    text = Path(taken.value.path()).read_text()
    assert text.startswith("treatment,role,block,")
    assert len(text.splitlines()) == 121


def test_a_whole_trial_is_taken_out_and_brought_into_another_shed(
    page: Page, server: str, empty_server: str, tmp_path: Path
) -> None:
    page.goto(f"{server}/trials")
    page.get_by_role("link", name="Lavender: does a hormone").first.click()
    with page.expect_download() as taken:
        page.get_by_role("link", name="Export trial").click()
    page.goto(f"{empty_server}/trials/read-in")
    file = tmp_path / "trial.json"
    file.write_bytes(Path(taken.value.path()).read_bytes())
    page.locator("input[type=file]").set_input_files(file)
    expect(page.get_by_text("plan frozen on")).to_be_visible()
    page.get_by_role("link", name="Finish").click()
    expect(
        page.get_by_text(re.compile("IBA 1000 ppm: 50 points more than Untreated.*Clearly ahead"))
    ).to_be_visible()
    file.write_text("{}")
    page.goto(f"{empty_server}/trials/read-in")
    page.locator("input[type=file]").set_input_files(file)
    expect(page.get_by_role("alert")).to_contain_text("not a complete trial file of version")


def test_a_long_table_shows_its_progress_and_can_be_stopped(
    page: Page, empty_server: str, tmp_path: Path
) -> None:
    long = tmp_path / "long.csv"
    rows = [f"{name},{'control' if name == 'Dry' else ''},alive" for name in ("Dry", "Soaked")]
    long.write_text("\n".join(["treatment,role,outcome", *rows * 15_000]))
    page.goto(f"{empty_server}/trials/read-in")
    for end in ("Stop", "Save"):
        page.locator("input[type=file]").set_input_files(long)
        expect(page.get_by_role("progressbar")).to_be_visible()
        page.get_by_role("button", name=end, exact=True).click(timeout=120_000)
        expect(page.get_by_role("progressbar")).to_have_count(0)
    expect(page.get_by_role("heading", name="long")).to_be_visible()


def test_dates_that_could_be_read_two_ways_are_asked_and_counts_in_bounds_are_told(
    page: Page, server: str, tmp_path: Path
) -> None:
    rows = ["treatment,container,count,start,date,struck"]
    rows += [
        f"untreated,u{i},4,01/04/2026,10/04/2026,{n}"
        for i, n in enumerate(("some", "0", "1", "0", "1"))
    ]
    rows += [
        f"seaweed,s{i},4,01/04/2026,10/04/2026,{n}"
        for i, n in enumerate(("4", "most", "4", "3", "4"))
    ]
    page.goto(f"{server}/trials/read-in")
    (tmp_path / "april.csv").write_text("\n".join(rows))
    page.locator("input[type=file]").set_input_files(tmp_path / "april.csv")
    expect(page.get_by_text("Does 01/04/2026 mean 1 April or 4 January?")).to_be_visible()
    page.get_by_role("button", name="The day comes first").click()
    expect(page.get_by_text("untreated 15 to 30 %")).to_be_visible()
    expect(
        page.get_by_text(
            re.compile("seaweed 90 to 95 %: clearly ahead, for every count that is possible")
        )
    ).to_be_visible()
    assert axe_faults(page) == []
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("heading", level=1, name="april")).to_be_visible()
    page.reload()
    expect(page.get_by_text("for every count that is possible").first).to_be_visible()
