"""The server is killed while taps arrive: every tap it acknowledged is there once, in order.

Four times in the tests; `make torture` does it a hundred times (RACECARD_KILLS).
"""

import http.client
import json
import os
import random
import resource
import signal
import threading
import time
import urllib.request
from pathlib import Path
from typing import Any

from racecard.store.chain import verify
from racecard.store.engine import FILE_NAME
from tests.builders import a_draft
from tests.cli.test_main import free_port, get, post, serve

KILLS = int(os.environ.get("RACECARD_KILLS", "4"))


def test_no_acknowledged_tap_is_lost_however_often_the_server_is_killed(tmp_path: Path) -> None:
    port = free_port()
    server = serve(tmp_path, port)
    trial = post(port, "/api/trials", a_draft(units=20))["id"]
    post(port, f"/api/trials/{trial}/start", {})
    units = [u["id"] for u in get(port, f"/api/trials/{trial}/rounds/0")["units"]]  # type: ignore[index]
    rng = random.Random(20261123)
    phones = [Phone(port, str(trial), units, name, rng.randrange(2**30)) for name in "ab"]
    for round_ in range(KILLS):
        alive = threading.Event()
        alive.set()
        threads = [threading.Thread(target=p.tap_while, args=(alive,)) for p in phones]
        for t in threads:
            t.start()
        time.sleep(0.15 + rng.random() * 0.25)
        server.send_signal(signal.SIGKILL)
        server.wait()
        alive.clear()
        for t in threads:
            t.join()
        server = serve(tmp_path, port)
        for p in phones:
            p.send_waiting()
        assert not any(p.waiting for p in phones), f"after kill {round_ + 1}"
    log: list[dict[str, Any]] = get(port, f"/api/trials/{trial}/log")  # type: ignore[assignment]
    server.terminate()
    server.wait()
    ids = [line["id"] for line in log]
    acknowledged = [id for p in phones for id in p.acknowledged]
    assert len(acknowledged) > KILLS
    assert sorted(ids) == sorted(set(ids)), "a tap is there twice"
    assert set(acknowledged) <= set(ids), "an acknowledged tap is lost"
    last = {p.name: p.last for p in phones}
    standing = {line["id"] for line in log if line["state"] == "in force"}
    for name, seen in last.items():
        for unit, id in seen.items():
            assert id in standing, f"the last tap of phone {name} on {unit} does not stand"


def test_a_disk_that_fills_refuses_taps_and_loses_none(tmp_path: Path) -> None:
    port = free_port()
    server = serve(tmp_path, port)
    trial = str(post(port, "/api/trials", a_draft(units=20))["id"])
    post(port, f"/api/trials/{trial}/start", {})
    units = [u["id"] for u in get(port, f"/api/trials/{trial}/rounds/0")["units"]]  # type: ignore[index]
    phone = Phone(port, trial, units, "a", 7)
    rng = random.Random(20261128)
    for _ in range(max(2, KILLS // 4)):
        full = max(f.stat().st_size for f in tmp_path.iterdir() if f.is_file())
        room = (full + rng.randrange(1, 60_000), resource.RLIM_INFINITY)
        resource.prlimit(server.pid, resource.RLIMIT_FSIZE, room)
        for _ in range(5000):
            phone.tap()
            if len(phone.waiting) >= 3:
                break
        assert len(phone.waiting) >= 3, "the disk never filled"
        assert phone.refused in (503, 507)
        assert get(port, "/api/trials"), "what is saved must still be told"
        whole = (resource.RLIM_INFINITY, resource.RLIM_INFINITY)
        resource.prlimit(server.pid, resource.RLIMIT_FSIZE, whole)
        phone.send_waiting()
        assert not phone.waiting, "once there is room again, all that waited is taken"
    log: list[dict[str, Any]] = get(port, f"/api/trials/{trial}/log")  # type: ignore[assignment]
    server.terminate()
    server.wait()
    ids = [line["id"] for line in log]
    assert sorted(ids) == sorted(set(ids))
    assert set(phone.acknowledged) <= set(ids)
    assert verify(tmp_path / FILE_NAME).is_whole


class Phone:
    """Keeps taps until they are acknowledged, sends them in order and the last batch twice."""

    def __init__(self, port: int, trial: str, units: list[str], name: str, seed: int) -> None:
        self.port, self.trial, self.name = port, trial, name
        self.units = units[::2] if name == "a" else units[1::2]
        self.rng = random.Random(seed)
        self.waiting: list[dict[str, Any]] = []
        self.acknowledged: list[str] = []
        self.last: dict[str, str] = {}
        self.made = 0
        self.refused = 0

    def tap_while(self, alive: threading.Event) -> None:
        while alive.is_set():
            self.tap()

    def tap(self) -> None:
        unit = self.rng.choice(self.units)
        self.made += 1
        tap = {
            "id": f"{self.name}-tap-{self.made:06}", "unit_id": unit, "kind": "look",
            "seen_at": time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime()),
            "stage": self.rng.randint(1, 7), "base": self.last.get(unit, ""),
            "device": self.name,
        }  # fmt: skip
        self.last[unit] = str(tap["id"])
        self.waiting.append(tap)
        self.send_waiting()

    def send_waiting(self) -> None:
        batch = list(self.waiting)
        for _ in range(2):
            try:
                self._send(batch)
            except (OSError, http.client.HTTPException) as exc:
                self.refused = getattr(exc, "code", 0)
                return
        self.acknowledged += [str(t["id"]) for t in batch]
        self.waiting = self.waiting[len(batch) :]

    def _send(self, batch: list[dict[str, Any]]) -> None:
        if not batch:
            return
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/trials/{self.trial}/observations",
            json.dumps({"items": batch}).encode(),
            {"Content-Type": "application/json"},
        )
        with urllib.request.urlopen(request, timeout=10) as answer:
            assert len(json.load(answer)["items"]) == len(batch)
