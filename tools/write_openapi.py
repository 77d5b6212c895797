"""Writes docs/openapi.json, from which the web's types are generated: python tools/write_openapi.py."""

import json
import tempfile
from pathlib import Path

from racecard.api.app import create_app
from racecard.store.engine import Shed

TARGET = Path(__file__).parent.parent / "docs" / "openapi.json"


def openapi_text() -> str:
    """The OpenAPI document as it is committed."""
    with tempfile.TemporaryDirectory() as folder:
        shed = Shed(Path(folder))
        document = create_app(shed).openapi()
        shed.close()
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    TARGET.write_text(openapi_text())
