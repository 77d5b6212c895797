"""Writes docs/openapi.json (the web's types come from it) docs/trial.schema.json and docs/glossary.md: python tools/write_openapi.py."""

import json
import tempfile
from pathlib import Path

from racecard.api.app import create_app
from racecard.core.text.glossary import as_markdown
from racecard.formats.trial_file import schema_text
from racecard.store.engine import Shed

DOCS = Path(__file__).parent.parent / "docs"
TARGET = DOCS / "openapi.json"
SCHEMA = DOCS / "trial.schema.json"
GLOSSARY = DOCS / "glossary.md"


def openapi_text() -> str:
    """The OpenAPI document as it is committed."""
    with tempfile.TemporaryDirectory() as folder:
        shed = Shed(Path(folder))
        document = create_app(shed).openapi()
        shed.close()
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    TARGET.write_text(openapi_text())
    SCHEMA.write_text(schema_text())
    GLOSSARY.write_text(as_markdown())
