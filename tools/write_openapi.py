"""Writes what is derived from the code: docs/openapi.json (the web's types come from it), docs/trial.schema.json, docs/form-book.schema.json,
docs/glossary.md, web/src/api/defaults.ts, src/racecard/store/schema.sql and src/racecard/core/unit_factors.py:
python tools/write_openapi.py.
"""

import json
import tempfile
from dataclasses import MISSING, fields
from pathlib import Path

from racecard.api.app import create_app
from racecard.core.model import Plan, Treatment
from racecard.core.quantities import every_factor, factor_by_pint
from racecard.core.text.glossary import as_markdown
from racecard.formats import book_file, pack_file
from racecard.formats.trial_file import schema_text
from racecard.store.engine import Shed
from racecard.store.migrating import SCHEMA as TABLES
from racecard.store.migrating import schema_of, upgrade

DOCS = Path(__file__).parent.parent / "docs"
TARGET = DOCS / "openapi.json"
SCHEMA = DOCS / "trial.schema.json"
BOOK_SCHEMA = DOCS / "form-book.schema.json"
PACK_SCHEMA = DOCS / "garden-pack.schema.json"
GLOSSARY = DOCS / "glossary.md"
FACTORS = DOCS.parent / "src" / "racecard" / "core" / "unit_factors.py"
DEFAULTS = DOCS.parent / "web" / "src" / "api" / "defaults.ts"


def openapi_text() -> str:
    """The OpenAPI document as it is committed."""
    with tempfile.TemporaryDirectory() as folder:
        shed = Shed(Path(folder))
        document = create_app(shed).openapi()
        shed.close()
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def defaults_text() -> str:
    """The defaults of a plan and of a treatment, for the page to begin with."""
    out = ["/** Written by tools/write_openapi.py from the core: never edited. */"]
    for kind in (Plan, Treatment):
        out += ["", f"export const {kind.__name__.upper()}_DEFAULTS = {{"]
        for f in fields(kind):
            if f.default is not MISSING:
                value = json.dumps(f.default, ensure_ascii=False)
                is_word = hasattr(f.default, "value")
                out.append(f"\t{f.name}: {value}{' as const' if is_word else ''},")
        out.append("};")
    return "\n".join(out) + "\n"


def factors_text() -> str:
    """How many of its base unit each unit is, worked out by pint once: its start takes a second."""
    rows = sorted({(e, to, factor_by_pint(e, to)) for e, to in every_factor()})
    return "\n".join(
        (
            '"""Sizes of units in their base units, as pint has them; written by tools/write_openapi.py, never edited."""',
            "", "FACTORS: dict[tuple[str, str], float] = {",
            *(f'    ("{e}", "{to}"): {factor!r},' for e, to, factor in rows), "}", "",
        )
    )  # fmt: skip


def schema_sql() -> str:
    """The saved file as all migrations leave it, for a new one to be made at once."""
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "all.sqlite3"
        upgrade(file)
        made = schema_of(file)
    written = TABLES.read_text() if TABLES.exists() else ""
    return written if in_any_order(made) == in_any_order(written) else made


def in_any_order(schema: str) -> list[list[str]]:
    """The statements of a schema, sorted with their lines: migrations set some down in no fixed order."""
    return sorted(
        sorted(line.strip(" \t,") for line in one.splitlines()) for one in schema.split(";\n")
    )


if __name__ == "__main__":
    TABLES.write_text(schema_sql())
    TARGET.write_text(openapi_text())
    SCHEMA.write_text(schema_text())
    BOOK_SCHEMA.write_text(book_file.schema_text())
    PACK_SCHEMA.write_text(pack_file.schema_text())
    GLOSSARY.write_text(as_markdown())
    DEFAULTS.write_text(defaults_text())
    FACTORS.write_text(factors_text())
