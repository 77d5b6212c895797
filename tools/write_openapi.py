"""Writes what is derived from the code: docs/openapi.json (the web's types come from it), docs/trial.schema.json,
docs/glossary.md and web/src/api/defaults.ts: python tools/write_openapi.py.
"""

import json
import tempfile
from dataclasses import MISSING, fields
from pathlib import Path

from racecard.api.app import create_app
from racecard.core.model import Plan, Treatment
from racecard.core.text.glossary import as_markdown
from racecard.formats.trial_file import schema_text
from racecard.store.engine import Shed

DOCS = Path(__file__).parent.parent / "docs"
TARGET = DOCS / "openapi.json"
SCHEMA = DOCS / "trial.schema.json"
GLOSSARY = DOCS / "glossary.md"
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


if __name__ == "__main__":
    TARGET.write_text(openapi_text())
    SCHEMA.write_text(schema_text())
    GLOSSARY.write_text(as_markdown())
    DEFAULTS.write_text(defaults_text())
