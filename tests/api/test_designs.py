"""Three questions over HTTP: plans that can be saved as they are, and one sentence where there are none."""

from typing import Any

import pytest
from fastapi.testclient import TestClient


def test_each_proposal_can_be_saved_as_it_is(client: TestClient) -> None:
    asked = {
        "question": "Do heel or nodal cuttings of fuchsia root better?",
        "plants": 30,
        "differ": ["age"],
    }
    found = client.post("/api/designs", json=asked).json()
    assert found["understood"]["names"] == ["Heel", "Nodal"]
    assert (found["control_percent"], found["gap_points"]) == (40, 40)
    for proposal in found["proposals"]:
        saved = client.post("/api/trials", json={"plan": proposal["plan"], "seed": 4})
        assert saved.status_code == 201, saved.text
        assert len(proposal["bench"]) == proposal["containers"]
        check = client.post("/api/plans/check", json={"plan": proposal["plan"], "seed": 4}).json()
        assert check["whole"]
        assert check["faults"] == []


def test_what_was_chosen_stands_over_what_was_read(client: TestClient) -> None:
    asked = {"question": "honey on figs?", "plants": 40, "names": ["IBA 1000 ppm"], "kind": "seed", "plant": "quince",
             "against": "plain water", "control_percent": 20.0, "gap_points": 60.0}  # fmt: skip
    found = client.post("/api/designs", json=asked).json()
    read = found["understood"]
    assert (read["kind"], read["plant"], read["names"]) == ("seed", "quince", ["IBA 1000 ppm"])
    arms = found["proposals"][0]["plan"]["treatments"]
    assert [(t["name"], t["agent"]) for t in arms] == [
        ("Plain water", "nothing"),
        ("IBA 1000 ppm", "hormone"),
    ]
    assert found["proposals"][0]["plan"]["expected_percent"] == 20


@pytest.mark.parametrize(
    ("change", "pointer"),
    [
        ({"plants": 1}, "/plants"),
        ({"containers": 0}, "/containers"),
        ({"sites": 0}, "/sites"),
        ({"control_percent": 80.0, "gap_points": 40.0}, "/difference"),
        ({"control_percent": 100.0}, "/control"),
        ({"plants": "24"}, "/plants"),
    ],
)
def test_what_cannot_be_is_one_sentence_by_its_field(
    client: TestClient, change: dict[str, Any], pointer: str
) -> None:
    answer = client.post("/api/designs", json={"plants": 24} | change)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["pointer"] == pointer
