"""Plain answers for the terminal: tables and tablature."""

from __future__ import annotations

from gingham.cli.answers import FitAnswer, ShapesAnswer, SpellAnswer
from gingham.core.fitting.result import Result
from gingham.core.formats.tab import section_tab


def table(rows: list[list[str]], head: list[str]) -> str:
    """Columns as wide as their widest cell."""
    widths = [max(len(row[i]) for row in [head, *rows]) for i in range(len(head))]
    lines = [
        "  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)) for row in [head, *rows]
    ]
    return "\n".join(line.rstrip() for line in lines)


def spell_table(answer: SpellAnswer) -> str:
    """Degrees over notes."""
    bass = f", bass {answer.bass}" if answer.bass != answer.root else ""
    rows = [[tone.degree, tone.note] for tone in answer.tones]
    return f"{answer.symbol}: root {answer.root}{bass}\n" + table(rows, ["degree", "note"])


def shapes_table(answer: ShapesAnswer) -> str:
    """One shape a line, best first."""
    rows = []
    for shape in answer.shapes:
        degrees = " ".join(string.degree or "x" for string in shape.strings)
        rows.append([shape.shape, shape.fingers, f"{shape.effort:.2f}", degrees])
    return table(rows, ["shape", "fingers", "effort", "degrees"]) if rows else "no playable shape"


def fit_table(answer: FitAnswer, result: Result) -> str:
    """Chords, tablature with the count line under it, the hand limit and the problems."""
    rows = [
        [
            f"{chord.bar}",
            chord.symbol,
            chord.sounding,
            chord.shape or "-",
            " then ".join(map(str, chord.bass)) or "-",
            " ".join(chord.heard) or "-",
            chord.hold or "-",
        ]
        for chord in answer.chords
    ]
    parts = [table(rows, ["bar", "chord", "sounds", "shape", "thumb", "heard", "hold"]), section_tab(result)]
    spots = "".join(f"\n  {spot.text}: {spot.tempo:g}" for spot in answer.limit.spots)
    parts.append(f"Comfortable top speed: {answer.limit.tempo} beats a minute{spots}")
    if answer.problems:
        parts.append("\n".join(f"Bar {p.bar}: {p.text}" for p in answer.problems))
    return "\n\n".join(parts)
