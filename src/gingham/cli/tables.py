"""Plain answers for the terminal: tables and tablature."""

from __future__ import annotations

from gingham.cli.answers import (
    CapoAnswer,
    CapoBestAnswer,
    ChangesAnswer,
    FitAnswer,
    NameAnswer,
    ShapesAnswer,
    SpellAnswer,
)
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


def name_table(answer: NameAnswer) -> str:
    """One symbol a line, best first."""
    return "\n".join(name.symbol for name in answer.names) or "no symbol names this shape"


def capo_table(answer: CapoAnswer) -> str:
    """What is fingered and what sounds."""
    rows = [[chord.shape_symbol, chord.sounding] for chord in answer.chords]
    return f"capo {answer.capo}\n" + table(rows, ["shape", "sounds"])


def capo_best_table(answer: CapoBestAnswer) -> str:
    """One position a line, the easiest first."""
    rows = [
        [
            str(place.capo),
            f"{place.effort:.2f}",
            str(place.barres),
            " ".join(chord.shape_symbol for chord in place.chords),
            " ".join(place.differ) or "-",
        ]
        for place in answer.positions
    ]
    return table(rows, ["capo", "effort", "barres", "shapes", "other pitches on"])


def changes_table(answer: ChangesAnswer) -> str:
    """One change a paragraph, the hardest named at the end."""
    parts = [
        f"{c.before} to {c.after}, {'back to the start' if c.seam else f'bar {c.bar}'} "
        f"(difficulty {c.difficulty:g})\n  {c.text}"
        for c in answer.changes
    ]
    if answer.hardest is None:
        return "the chord never changes"
    return "\n".join([*parts, "", f"Hardest: {answer.hardest}"])


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
