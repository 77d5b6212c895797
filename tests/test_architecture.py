"""Imports point inward, the public door is complete, names that must not be here are not."""

import ast
import inspect
import re
import sys
from collections.abc import Iterator
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
        "joined_runs",
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


_PLAIN = re.compile(r"\b(int|float|str|bool|date|datetime|Floats|Ints|Bools|Callable)\b")


def spoken_of(doc: str) -> set[str]:
    """Arguments that the Args of a docstring name, one or several to a line."""
    args = re.split(r"\n\n|\n(?=\S)", doc.partition("Args:\n")[2])[0]
    named = re.findall(r"^    (\w+(?:, \w+)*):", args, re.M)
    return {name for line in named for name in line.split(", ")}


def public_functions(path: Path) -> Iterator[ast.FunctionDef]:
    """Functions, and methods of classes, that have no underscore; properties and notes aside."""
    tree = ast.parse(path.read_text())
    classes = [n for n in tree.body if isinstance(n, ast.ClassDef) and n.name[0] != "_"]
    for body in (tree.body, *(c.body for c in classes)):
        for node in body:
            decorated = {
                ast.unparse(d).partition("(")[0] for d in getattr(node, "decorator_list", ())
            }
            if (
                isinstance(node, ast.FunctionDef)
                and node.name[0] != "_"
                and not decorated & {"property", "rule"}
            ):
                yield node


@pytest.mark.parametrize("path", [p for p in FILES if layer_of(p) == "core"], ids=str)
def test_the_core_says_what_its_functions_take(path: Path) -> None:
    """Every argument of two or more, where one is a plain value whose meaning its type does not tell."""
    for function in public_functions(path):
        args = [
            a for a in function.args.args + function.args.kwonlyargs if a.arg not in ("self", "cls")
        ]
        doc = ast.get_docstring(function) or ""
        is_plain = any(_PLAIN.search(ast.unparse(a.annotation or a)) for a in args)
        if "Args:" in doc or (len(args) > 1 and is_plain):
            told, taken = spoken_of(doc), {a.arg for a in args}
            assert told >= taken, f"{function.name} does not say what these are: {taken - told}"
            rest = {function.args.vararg.arg} if function.args.vararg else set()
            assert told <= taken | rest, f"{function.name} takes no {told - taken}"


@pytest.mark.parametrize(
    "path", [p for p in FILES if p.parts[-2] in ("notes", "log", "finish")], ids=str
)
def test_what_is_said_of_any_plant_says_what_it_did(path: Path) -> None:
    """Seeds come up and bulbs bloom: `goal.done` and `do` know; struck is for cuttings."""
    tree = ast.parse(path.read_text())
    notes = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
    said = [
        n.value
        for n in ast.walk(tree)
        if isinstance(n, ast.Constant) and isinstance(n.value, str) and id(n) not in notes
    ]
    sentences = [s for s in said if " " in s.strip() and "(?P<" not in s]
    assert not [s for s in sentences if re.search(r"\b(struck|strikes?|striking)\b", s, re.I)]
