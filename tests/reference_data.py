"""Reads the published data under tests/reference."""

import csv
import importlib.util
from pathlib import Path
from types import ModuleType

import numpy as np
from numpy.typing import NDArray

from racecard.core.arrays import Bools, Floats

FOLDER = Path(__file__).parent / "reference"


def grader(path: str) -> ModuleType:
    """The grader that came with a corpus, as a module."""
    spec = importlib.util.spec_from_file_location(Path(path).stem, FOLDER / path)
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def _rows(name: str) -> list[dict[str, str]]:
    with (FOLDER / name).open() as file:
        return list(csv.DictReader(file))


def orobanche() -> tuple[Floats, Bools, NDArray[np.str_]]:
    """Share germinated on each plate, whether it had the cucumber extract, and its seed lot."""
    rows = _rows("orobanche_plates.csv")
    share = np.array([int(r["y"]) / int(r["n"]) for r in rows])
    return share, np.array([r["root"] != "BEAN" for r in rows]), np.array([r["seed"] for r in rows])


def orobanche_counts(lot: str) -> dict[str, list[tuple[int, int]]]:
    """(germinated, sown) of the plates of one seed lot, by extract."""
    found: dict[str, list[tuple[int, int]]] = {"BEAN": [], "CUCUMBER": []}
    for r in _rows("orobanche_plates.csv"):
        if r["seed"] == lot:
            found[r["root"]].append((int(r["y"]), int(r["n"])))
    return found


def breast() -> tuple[Floats, Floats, NDArray[np.str_]]:
    """Lower and upper end of each interval (inf: not seen by the end), and the treatment."""
    rows = _rows("breast_cosmesis.csv")
    lower = np.array([float(r["lower"]) for r in rows])
    upper = np.array([float(r["upper"]) for r in rows])
    return lower, upper, np.array([r["treat"] for r in rows])


def orobanche_csv() -> bytes:
    """The plates as a table of results: bean the control, seed lot the block, plate the container."""
    lines = ["treatment,role,block,container,count,outcome"]
    for i, r in enumerate(_rows("orobanche_plates.csv"), 1):
        role = "control" if r["root"] == "BEAN" else "candidate"
        start = f"{r['root'].lower()},{role},{r['seed']},{i}"
        struck, alive = int(r["y"]), int(r["n"]) - int(r["y"])
        lines += [f"{start},{n},{what}" for n, what in ((struck, "struck"), (alive, "alive")) if n]
    return "\n".join(lines).encode()


def germination_csv(crop: str) -> bytes:
    """Counts of one crop at each temperature as a table of results, the coolest the control."""
    rows = [r for r in _rows("germination_temperatures.csv") if r["species"] == crop]
    coolest = min(rows, key=lambda r: float(r["temp"]))["temp"]
    lines = ["treatment,role,outcome,day_from,day_to,day,count"]
    for r in rows:
        role = "control" if r["temp"] == coolest else "candidate"
        start, n = f"{r['temp']} C,{role}", int(r["germinated"])
        if n and r["end"] == "inf":
            lines.append(f"{start},alive,,,{r['start']},{n}")
        elif n:
            lines.append(f"{start},struck,{r['start']},{float(r['end']):.0f},,{n}")
    return "\n".join(lines).encode()


def orobanche_cross_csv() -> bytes:
    """The plates as a cross of seed lot and extract, each combination a treatment."""
    lines = ["treatment,role,container,count,outcome,factor_lot,factor_extract"]
    for i, r in enumerate(_rows("orobanche_plates.csv"), 1):
        role = "control" if (r["seed"], r["root"]) == ("O75", "BEAN") else "candidate"
        name = f"{r['root'].lower()} {r['seed']}"
        y, n = int(r["y"]), int(r["n"])
        for k, what in ((y, "struck"), (n - y, "alive")):
            if k:
                lines.append(f"{name},{role},{i},{k},{what},{r['seed']},{r['root'].lower()}")
    return "\n".join(lines).encode()
