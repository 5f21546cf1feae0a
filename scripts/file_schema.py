"""Writes the JSON schema of the piece file into docs/."""

from __future__ import annotations

import json
from pathlib import Path

from gingham.core.formats.records import schema

if __name__ == "__main__":
    path = Path(__file__).parents[1] / "docs" / "gingham-piece.schema.json"
    path.write_text(json.dumps(schema(), indent=1) + "\n")
