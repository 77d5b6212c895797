"""The finish over HTTP: what stands beside it, what is written beside it, and the report."""

import json
import re
from collections.abc import Iterator
from typing import Any

import pypdfium2
import pytest
from click.testing import CliRunner
from fastapi.testclient import TestClient

from racecard import __version__
from racecard.api.app import create_app
from racecard.cli.main import app
from racecard.demo.dry_run import carry_camellia_out
from racecard.store.dry_runs import load_dry_runs
from tests.builders import a_draft
from tests.conftest import Demo


@pytest.fixture
def client(demo: Demo) -> Iterator[TestClient]:
    with TestClient(create_app(demo.shed), "http://127.0.0.1") as client:
        yield client


def trial(client: TestClient, begins: str) -> dict[str, Any]:
    found = client.get("/api/trials").json()
    return next(t for t in found if t["question"].startswith(begins))


def at(client: TestClient, begins: str) -> str:
    return f"/api/trials/{trial(client, begins)['id']}"


def strict(answer: Any) -> Any:
    """The body, refusing NaN and infinity."""

    def never(said: str) -> float:
        raise AssertionError(f"{said} in JSON")

    return json.loads(answer.text, parse_constant=never)


@pytest.mark.parametrize("begins", ["Lavender", "Sweet pea", "Rosemary", "Parsley"])
def test_every_demo_trial_has_its_whole_page(client: TestClient, begins: str) -> None:
    found = strict(client.get(f"{at(client, begins)}/finish"))
    assert len(found["cells"]) == sum(lane["units"] for lane in found["lanes"])
    assert found["placings"]["places"][0]["place"] == 1
    assert bool(found["ladder"]) == (begins == "Lavender")
    assert bool(found["cross"]) == (begins == "Sweet pea")
    assert (found["final"], bool(found["lanes"][0]["indices"])) == (
        begins != "Sweet pea", begins in ("Sweet pea", "Parsley")
    )  # fmt: skip


def test_costs_are_kept_and_reckoned_beside_the_proof(client: TestClient) -> None:
    where = f"{at(client, 'Lavender')}/worth"
    assert client.get(where).json() == {"given": None, "payoffs": []}
    body = {
        "struck_plant": 2.0,
        "hour": 12,
        "currency": "€",
        "cost": {"3": 0.05},
        "minutes": {"3": 0.5},
    }
    told = client.put(where, json=body).json()
    standard = next(p for p in told["payoffs"] if p["treatment"] == 3)
    assert standard["word"] == "clear, and it pays"
    assert standard["gain"] == pytest.approx(0.5 * 2 - 0.15)
    assert client.get(where).json() == told
    for bad in (
        {"struck_plant": 0},
        {"struck_plant": 1, "cost": {"9": 1}},
        {"struck_plant": 1, "hour": -1},
    ):
        assert client.put(where, json=bad).status_code == 422
    assert client.get(where).json() == told


def test_a_conclusion_is_kept_with_what_says_too_much(client: TestClient) -> None:
    where = f"{at(client, 'Lavender')}/conclusion"
    assert client.get(where).json()["text"] == ""
    told = client.put(where, json={"text": "This proves IBA wins. "}).json()
    assert told["text"] == "This proves IBA wins."
    assert [o["found"] for o in told["too_much"]] == ["proves"]
    honest = client.put(where, json={"text": told["honest"]}).json()
    assert honest["too_much"] == []
    assert client.put(where, json={"text": "x" * 2500}).status_code == 422
    assert client.get(where).json() == honest


def test_another_milestone_has_lanes_and_no_verdict(client: TestClient) -> None:
    where = at(client, "Lavender")
    callus = client.get(f"{where}/milestone", params={"stage": 2}).json()
    end = client.get(f"{where}/finish").json()
    assert [lane["struck"] for lane in callus["lanes"]] >= [lane["struck"] for lane in end["lanes"]]
    assert client.get(f"{where}/milestone", params={"stage": 20}).status_code == 422
    assert (
        client.get(f"{at(client, 'Sweet pea')}/milestone", params={"stage": 2}).status_code == 422
    )


def test_the_heat_clock_runs_where_a_temperature_is_watched(client: TestClient) -> None:
    heat = client.get(f"{at(client, 'Sweet pea')}/heat").json()
    assert heat["upto"] == sorted(heat["upto"])
    assert heat["upto"][-1] > 50
    assert client.get(f"{at(client, 'Lavender')}/heat").json() is None


def test_a_report_is_one_page_with_everything_and_nothing_from_elsewhere(
    client: TestClient,
) -> None:
    where = at(client, "Lavender")
    client.put(f"{where}/conclusion", json={"text": "1000 ppm <b>struck</b> most."})
    plan = client.get(where).json()["fingerprint"]
    answer = client.get(f"{where}/report.html")
    page = answer.text
    assert "Content-Security-Policy" in answer.headers
    assert "Invented demo data" in page
    assert "&lt;b&gt;struck&lt;/b&gt;" in page
    for part in (
        "How sure is that?",
        "Stewards",
        "How it was done and judged",
        "seed 4127",
        "How to cite this trial",
        f"(finished). Plan {plan}. Invented data. Racecard {__version__}",
        "table.csv",
    ):
        assert part in page
    assert not re.search(r"(src|href)=['\"]https?:", page)
    assert page.count("<svg") == 1


@pytest.mark.parametrize(("paper", "width"), [("a4", 595), ("letter", 612)])
@pytest.mark.parametrize("begins", ["Lavender", "Rosemary"])
def test_a_report_prints_on_either_paper(
    client: TestClient, begins: str, paper: str, width: int
) -> None:
    answer = client.get(f"{at(client, begins)}/report.pdf", params={"paper": paper})
    book = pypdfium2.PdfDocument(answer.content)
    assert round(book[0].get_width()) == width
    text = "".join(page.get_textpage().get_text_range() for page in book)
    assert trial(client, begins)["question"].split(":")[0] in text
    assert "How it was done and judged" in text
    assert client.get(f"{at(client, begins)}/report.pdf", params={"paper": "b5"}).status_code == 422


def test_the_lanes_come_as_a_picture(client: TestClient) -> None:
    answer = client.get(f"{at(client, 'Lavender')}/lanes.svg")
    assert answer.headers["content-type"].startswith("image/svg+xml")
    assert answer.text.count("IBA") >= 3


def test_what_has_not_started_or_is_sealed_has_no_finish_by_any_route(client: TestClient) -> None:
    draft = client.post("/api/trials", json=a_draft(blind=True)).json()["id"]
    parts = (
        "finish",
        "worth",
        "conclusion",
        "heat",
        "report.html",
        "report.pdf",
        "lanes.svg",
        "milestone?stage=2",
    )
    for part in parts:
        assert client.get(f"/api/trials/{draft}/{part}").status_code == 409
    client.post(f"/api/trials/{draft}/start", json={})
    for part in (*parts, "blind-lanes"):
        answer = client.get(f"/api/trials/{draft}/{part}")
        assert answer.json()["type"] == "/problems/sealed", part
    assert client.put(f"/api/trials/{draft}/worth", json={"struck_plant": 1}).status_code == 409
    assert client.get(f"{at(client, 'Parsley')}/blind-lanes").status_code == 409


def test_a_summary_is_audited(client: TestClient) -> None:
    rows = [{"treatment": "Untreated", "stuck": 20, "struck": 9, "percent": "45"},
            {"treatment": "Treated", "stuck": 20, "struck": 12, "percent": "65"}]  # fmt: skip
    found = client.post("/api/tables/audit", json={"rows": rows}).json()
    assert [f["code"] for f in found["findings"]] == ["percent_off"]
    assert client.post("/api/tables/audit", json={"rows": []}).status_code == 422


def test_page_command_line_and_a_trial_brought_in_judge_alike(
    client: TestClient, tmp_path: Any
) -> None:
    for begins in ("Lavender", "Sweet pea", "Parsley"):
        where = at(client, begins)
        page = client.get(f"{where}/finish").json()
        content = client.get(f"{where}/trial.json").content
        path = tmp_path / "trial.json"
        path.write_bytes(content)
        told = json.loads(CliRunner().invoke(app, ["finish", str(path), "--json"]).output)
        again = client.post("/api/trials/bring-in", content=content).json()["id"]
        brought = client.get(f"/api/trials/{again}/finish").json()
        assert page["headline"] == brought["headline"]
        if page["final"]:  # the command reads today's clock, by which a running trial has ended
            assert told["headline"] == page["headline"]
        verdicts = [(c["p"], c["p_holm"], c["grade"]) for c in page["comparisons"]]
        assert [(c["p"], c["p_holm"], c["grade"]) for c in told["comparisons"]] == verdicts
        assert [(c["p"], c["p_holm"], c["grade"]) for c in brought["comparisons"]] == verdicts
        assert [p["letters"] for p in told["placings"]] == [
            p["letters"] for p in page["placings"]["places"]
        ]
        csv = tmp_path / "table.csv"
        csv.write_bytes(client.get(f"{where}/table.csv").content)
        table = json.loads(CliRunner().invoke(app, ["finish", str(csv), "--json"]).output)
        assert {c["treatment"]: c["grade"] for c in table["comparisons"]} == {
            c["treatment"]: c["grade"] for c in told["comparisons"]
        }
        assert len(table["factors"]) == len(told["factors"])


def test_camellia_is_carried_out_dry_once(demo: Demo) -> None:
    for _ in range(2):
        carry_camellia_out(demo.shed, demo.trials[2], "me", seasons=20)
    with demo.shed.reading() as session:
        kept = load_dry_runs(session)
    assert [k.carried.plan.units for k in kept] == [24, 48]
    assert all(k.invented for k in kept)
