"""Imports point inward, the public door is complete, names that must not be here are not."""

import ast
import inspect
import sys
from pathlib import Path

import pytest

import racecard.core

ROOT = Path(__file__).parent.parent
SOURCE = ROOT / "src" / "racecard"
INWARD = {
    "errors": set(),
    "core": {"errors"},
    "formats": {"errors", "core"},
    "store": {"errors", "core"},
    "demo": {"errors", "core", "formats", "store"},
    "standins": {"errors", "core", "formats", "store"},
    "api": {"errors", "core", "formats", "store", "demo", "standins"},
    "cli": {"errors", "core", "formats", "store", "demo", "standins", "api"},
}
FORBIDDEN = {
    "core": {
        "fastapi",
        "starlette",
        "pydantic",
        "sqlalchemy",
        "alembic",
        "matplotlib",
        "click",
        "os",
    },
    "formats": {"fastapi", "starlette", "sqlalchemy"},
    "store": {"fastapi", "starlette", "pydantic", "click"},
    "demo": {"fastapi", "starlette", "sqlalchemy"},
    "standins": {"fastapi", "starlette", "sqlalchemy"},
    "api": {"sqlalchemy", "alembic", "click"},
}
FILES = sorted(p for p in SOURCE.rglob("*.py") if "migrations" not in p.parts)


def imported(path: Path) -> list[str]:
    found = []
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found += [alias.name for alias in node.names]
        elif isinstance(node, ast.ImportFrom):
            assert node.level == 0, f"{path}: relative import"
            found.append(node.module or "")
    return found


def layer_of(path: Path) -> str:
    return path.relative_to(SOURCE).parts[0].removesuffix(".py")


@pytest.mark.parametrize("path", [p for p in FILES if layer_of(p) in INWARD], ids=str)
def test_imports_point_inward(path: Path) -> None:
    layer = layer_of(path)
    for name in imported(path):
        top, *rest = name.split(".")
        if top == "racecard" and rest:
            assert rest[0] in INWARD[layer] | {layer}, f"{layer} must not import {name}"
        assert top not in FORBIDDEN.get(layer, set()), f"{layer} must not import {name}"


def test_api_features_do_not_import_each_other() -> None:
    features = {p.stem for p in (SOURCE / "api").glob("*.py")} - {
        "app",
        "deps",
        "gate",
        "boundary",
        "standings",
        "table_work",
        "uploads",
        "problems",
        "__init__",
    }
    for feature in features:
        others = {f"racecard.api.{f}" for f in features - {feature}}
        assert not others & set(imported(SOURCE / "api" / f"{feature}.py"))


def test_web_features_do_not_import_each_other() -> None:
    features = ROOT / "web" / "src" / "features"
    for path in features.rglob("*.ts*"):
        mine = path.relative_to(features).parts[0]
        for other in features.iterdir():
            if other.name != mine:
                assert f"@/features/{other.name}" not in path.read_text(), path


def test_the_public_door_is_sorted_and_complete() -> None:
    assert racecard.core.__all__ == sorted(racecard.core.__all__)
    for name in racecard.core.__all__:
        found = getattr(racecard.core, name)
        if inspect.isfunction(found):
            assert "Args:" in (found.__doc__ or ""), name


def test_heavy_libraries_stay_off_the_way_to_the_first_answer() -> None:
    import subprocess

    code = (
        "import sys, racecard.api.app; "
        "print(*[m for m in ('scipy.stats', 'scipy.optimize', 'pandas', 'statsmodels', 'openpyxl', 'pint', 'reportlab', 'icalendar', 'alembic') if m in sys.modules])"
    )
    out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert out.stdout.strip() == ""


@pytest.mark.parametrize(
    "path", [p for p in FILES if layer_of(p) in ("api", "store", "cli")], ids=str
)
def test_only_what_judges_reads_the_treatments_of_a_sealed_trial(path: Path) -> None:
    text = path.read_text()
    if layer_of(path) != "store":  # answers are built from `load_trial`, which hides them
        assert "load_whole" not in text
        assert "trial_of" not in text
    elif path.name not in {"trials.py", "finish.py", "diary.py"}:
        assert "load_whole(" not in text
