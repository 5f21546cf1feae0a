"""Writes the JSON schemas of the command line's answers into docs/cli.md."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import msgspec

from gingham.cli import practice, records
from gingham.cli.desktop import DesktopAnswer
from gingham.cli.spell import SpellAnswer
from gingham.core.practice.record_text import RecordAnswer
from gingham.words import take_answer

_BEGIN, _END = "<!-- schemas: made by scripts/cli_schemas.py -->", "<!-- end of schemas -->"

ANSWERS: dict[str, type[msgspec.Struct]] = {
    "spell": SpellAnswer,
    "shapes": records.ShapesAnswer,
    "name": records.NameAnswer,
    "capo": records.CapoAnswer,
    "capo --best": records.CapoBestAnswer,
    "fit": records.FitAnswer,
    "finger": records.FingerAnswer,
    "figure": records.FigureAnswer,
    "say": records.SayAnswer,
    "changes": records.ChangesAnswer,
    "export": records.ExportAnswer,
    "read": records.ReadAnswer,
    "listen": take_answer.ListenAnswer,
    "simulate": records.SimulateAnswer,
    "practise": practice.PractiseAnswer,
    "log": RecordAnswer,
    "desktop": DesktopAnswer,
}


def schemas() -> dict[str, dict[str, Any]]:
    """The JSON schema of each sub-command's answer."""
    return {name: msgspec.json.schema(answer) for name, answer in ANSWERS.items()}


def document(text: str) -> str:
    """The manual's text with the schemas of today."""
    before, rest = text.split(_BEGIN)
    _, after = rest.split(_END)
    parts = [
        f"### `{name}`\n\n```json\n{json.dumps(schema, indent=1)}\n```\n"
        for name, schema in schemas().items()
    ]
    return before + _BEGIN + "\n\n" + "\n".join(parts) + "\n" + _END + after


if __name__ == "__main__":
    path = Path(__file__).parents[1] / "docs" / "cli.md"
    path.write_text(document(path.read_text()))
