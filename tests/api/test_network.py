"""The network: names, sizes and speed of requests, headers, joining, and who may do what."""

import asyncio
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient

from racecard.api.app import create_app
from racecard.api.boundary import Boundary
from racecard.api.gate import CODE_LIVES, Gate, Sharing
from racecard.errors import InvalidInput, RateLimited
from racecard.store.engine import Shed
from tests.api.test_api import begin, tap, units
from tests.builders import a_draft
from tests.conftest import Clock

Both = tuple[TestClient, TestClient, Sharing]


@pytest.fixture
def shared(shed: Shed, clock: Clock) -> Both:
    app = create_app(shed, hosts=("127.0.0.1", "shed"))
    app.state.sharing = sharing = Sharing("https://shed", "AA", b"root", clock)
    inside = TestClient(app, "http://127.0.0.1", raise_server_exceptions=False)
    outside = TestClient(Gate(app, shed, sharing), "https://shed", raise_server_exceptions=False)
    return inside, outside, sharing


def join(both: Both, role: str = "helper") -> str:
    inside, outside, sharing = both
    assert outside.post("/api/join", json={"code": sharing.code, "name": "by the door"}).status_code == 200  # fmt: skip
    (device,) = [d for d in inside.get("/api/shed").json()["devices"] if not d["withdrawn_at"]]
    inside.post(f"/api/devices/{device['id']}/role", json={"role": role})
    return str(device["id"])


def test_nothing_passes_the_gate_without_a_key(shared: Both, clock: Clock) -> None:
    inside, outside, sharing = shared
    begin(inside, clock)
    for path in inside.get("/api/openapi.json").json()["paths"]:
        if path in ("/api/join", "/api/root.crt") or path.startswith("/api/garden/"):
            continue  # a garden's own routes: see test_gardens.py
        for method in ("GET", "POST", "PUT", "DELETE"):
            assert outside.request(method, path).status_code in (401, 403), (method, path)
    assert outside.get("/api/root.crt").content == b"root"
    answer = outside.post("/api/join", json={"code": sharing.code.lower(), "name": "phone"})
    assert answer.status_code == 200
    cookie = answer.headers["set-cookie"].lower()
    assert all(word in cookie for word in ("httponly", "secure", "samesite=strict"))
    assert outside.get("/api/trials").status_code == 200
    (device,) = inside.get("/api/shed").json()["devices"]
    inside.post(f"/api/devices/{device['id']}/withdraw")
    assert outside.get("/api/trials").status_code == 401


def test_a_code_works_once_for_ten_minutes_and_not_after_a_withdrawal(shared: Both, clock: Clock) -> None:  # fmt: skip
    inside, outside, sharing = shared
    used = sharing.code
    assert len(used) == 8
    device = join(shared)
    assert outside.post("/api/join", json={"code": used}).status_code == 422
    seen = sharing.code
    inside.post(f"/api/devices/{device}/withdraw")
    clock.now += timedelta(minutes=2)
    assert outside.post("/api/join", json={"code": seen}).status_code == 422
    late = sharing.code
    clock.now += CODE_LIVES
    assert outside.post("/api/join", json={"code": late}).status_code == 422
    assert sharing.code != late


def test_a_guesser_slows_nobody_but_himself(clock: Clock) -> None:
    sharing = Sharing("https://shed", "AA", b"root", clock)
    for n in range(64):
        with pytest.raises(InvalidInput if n == 0 else RateLimited):
            sharing.check("WRONG", "10.0.0.66")
        sharing.check(sharing.code, f"10.0.0.{n}" if n != 66 else "10.0.1.1")
    clock.now += timedelta(seconds=1)
    with pytest.raises(InvalidInput):
        sharing.check("WRONG", "10.0.0.66")
    clock.now += timedelta(seconds=1)
    with pytest.raises(RateLimited):
        sharing.check(sharing.code, "10.0.0.66")
    assert sharing.wrong == 2


@pytest.mark.parametrize("role", ["viewer", "helper", "desk"])
def test_who_may_do_what(shared: Both, clock: Clock, role: str) -> None:
    inside, outside, _ = shared
    trial = begin(inside, clock)
    unit = units(inside, trial)[0]["id"]
    join(shared, role)
    at = f"/api/trials/{trial['id']}"
    assert outside.get(at).status_code == 200
    assert outside.post("/api/mixing/line", json={"line": "68 F in C"}).status_code == 200
    taps = {"items": [tap(unit, f"tap-{role}-1", clock, stage=3)]}
    bench = outside.post(f"{at}/observations", json=taps)
    assert bench.status_code == (403 if role == "viewer" else 200)
    trained = outside.post("/api/trainer/sittings", json={"seed": 1, "marks": [3] * 24})
    assert trained.status_code == (403 if role == "viewer" else 201)
    desk: list[tuple[str, str, Any]] = [
        ("POST", "/api/trials", a_draft()), ("POST", f"{at}/amend", {"change": {"length_days": 60}, "reason": "slow"}),
        ("POST", f"{at}/copy", {"seed": 5}), ("POST", "/api/shed/code", None), ("PUT", "/api/mixing/choices", {"choices": {}}),
    ]  # fmt: skip
    for method, path, body in desk:
        refused = outside.request(method, path, json=body).status_code == 403
        assert refused is (role != "desk"), path


def test_an_act_carries_who_and_the_device_of_its_key(shared: Both, clock: Clock) -> None:
    inside, outside, _ = shared
    trial = begin(inside, clock, blind=True)
    device = join(shared)
    one = tap(
        units(inside, trial)[0]["id"], "tap-0001", clock, stage=3, who="Ines", device="forged"
    )
    path = f"/api/trials/{trial['id']}"
    headers = {"X-Who": "Tom", "X-Waiting": "4"}
    kept = outside.post(f"{path}/observations", json={"items": [one]}, headers=headers).json()
    assert kept["items"][0]["who"] == "Ines · by the door"
    inside.post(f"{path}/unseal", headers={"X-Who": "Mara"})
    said = {line["says"]: line["who"] for line in inside.get(f"{path}/log").json()}
    assert said["unsealed: the treatments are shown"] == "Mara"
    (found,) = inside.get("/api/shed").json()["devices"]
    assert (found["id"], found["waiting"]) == (device, 4)


def test_without_sharing_nobody_joins(client: TestClient) -> None:
    assert client.get("/api/shed").json()["is_shared"] is False
    for answer in (
        client.post("/api/join", json={"code": "X"}), client.get("/api/root.crt"),
        client.post("/api/shed/code"),
    ):  # fmt: skip
        assert answer.status_code == 409


def test_another_sites_page_changes_nothing_and_reads_nothing(
    client: TestClient, clock: Clock
) -> None:
    trial = begin(client, clock)
    path = f"/api/trials/{trial['id']}/unseal"
    for origin in ("https://elsewhere.example", "null", "http://127.0.0.1:81"):
        assert client.post(path, headers={"Origin": origin}).status_code == 403
        assert client.get("/api/shed", headers={"Origin": origin}).status_code == 403
    assert client.post(path, headers={"Origin": "http://127.0.0.1"}).status_code != 403


@pytest.mark.parametrize(
    "host", ["attacker.example", "127.0.0.1.attacker.example", "", "localhost.evil:8620"]
)
def test_a_foreign_name_for_this_machine_reads_nothing(client: TestClient, host: str) -> None:
    answer = client.get("/api/shed", headers={"Host": host})
    assert answer.status_code == 421
    assert "go by that name" in answer.json()["detail"]
    assert client.get("/api/shed", headers={"Host": "LOCALHOST:8620"}).status_code == 200


def test_every_answer_carries_its_headers(shared: Both) -> None:
    inside, outside, _ = shared
    for answer in (inside.get("/api/trials"), inside.get("/api/none"), inside.get("/"), outside.get("/api/trials"),
                   inside.get("/api/trials", headers={"Host": "x"})):  # fmt: skip
        assert "frame-ancestors 'none'" in answer.headers["content-security-policy"]
        assert answer.headers["x-content-type-options"] == "nosniff"
        assert answer.headers["referrer-policy"] == "no-referrer"
        assert ("strict-transport-security" in answer.headers) is (answer.url.scheme == "https")
        if "/api/" in answer.url.path:
            assert answer.headers["cache-control"] == "no-store"


def test_the_desks_own_name_is_never_bound_to_tls(shared: Both) -> None:
    """It would hold for every port of the name, and lock the desk out of its own page."""
    _, outside, _ = shared
    answer = outside.get("/api/root.crt", headers={"Host": "127.0.0.1:8621"})
    assert answer.status_code == 200
    assert "strict-transport-security" not in answer.headers


def test_an_odd_cookie_of_another_program_drops_no_key(shared: Both) -> None:
    _, outside, _ = shared
    join(shared)
    key = outside.cookies["racecard_key"]
    for odd in ('a[]=1; b="x;y', "=; ;;", "naïve=ü"):
        cookie = f"{odd}; racecard_key={key}; z=1".encode()
        assert outside.get("/api/trials", headers={b"Cookie": cookie}).status_code == 200


@pytest.mark.parametrize(("path", "most"), [("/api/join", 4_000), ("/api/trials", 3_000_000)])
def test_a_body_beyond_its_bound_is_refused_unread(
    client: TestClient, path: str, most: int
) -> None:
    told = client.post(path, content=b"x", headers={"Content-Length": str(400_000_000)})
    assert told.status_code == 413
    answer = client.post(path, content=iter([b"x" * 1000] * (most // 1000 + 2)))
    assert answer.status_code == 413
    assert "send less" in answer.json()["detail"]


def test_a_post_that_never_ends_is_given_up(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("racecard.api.boundary._PIECE_S", 0.05)
    sent: list[Any] = []

    async def app(*_: Any) -> None:
        raise AssertionError("the application must not be reached")

    async def never() -> Any:
        await asyncio.sleep(60)

    async def send(message: Any) -> None:
        sent.append(message)

    scope = {"type": "http", "method": "POST", "path": "/api/join", "scheme": "http", "headers": [(b"host", b"localhost")]}  # fmt: skip
    waiting = Boundary(app)(scope, never, send)
    with (
        ThreadPoolExecutor() as beside
    ):  # a browser that was driven before keeps a loop in this thread
        beside.submit(asyncio.run, waiting).result()
    assert sent[0]["status"] == 408
