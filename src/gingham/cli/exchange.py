"""The sub-commands that read and write files of other programs: `read` and `export`."""

from __future__ import annotations

from pathlib import Path

from gingham.cli.answers import ExportAnswer, ReadAnswer, ReadException, ReadPattern, ReadSection
from gingham.cli.tables import table
from gingham.core.finding.find import Found, find
from gingham.core.formats.imports import read_part
from gingham.core.formats.piece_file import load_piece, save_piece
from gingham.core.formats.sound_choice import SoundChoice
from gingham.core.patterns.shorthand import print_pattern
from gingham.core.pieces.chordline import print_chord_line
from gingham.core.pieces.form import print_turns
from gingham.paper.content import SheetOptions
from gingham.paper.exports import SHEETS, check_suffix, export
from gingham.words.errors import printable
from gingham.words.importing import guess_text


def export_answer(piece: Path, out: Path, choice: SoundChoice, sheet: SheetOptions) -> ExportAnswer:
    """The answer of `gingham export`; FileError for what cannot be read or written."""
    read = load_piece(piece)
    keep = None
    if check_suffix(out) in SHEETS:
        from gingham.paper.output import ready  # draws with Qt, which other formats never need

        keep = ready()
    written = export(read, out, choice=choice, sheet=sheet)
    del keep
    return ExportAnswer(printable(piece), printable(out), written)


def read_answer(path: Path, out: Path | None) -> ReadAnswer:
    """The answer of `gingham read`; what was found is saved to `out` if one is given."""
    found = find(read_part(path))
    if out is not None:
        save_piece(found.piece, out)
    return _answer(path, found)


def _answer(path: Path, found: Found) -> ReadAnswer:
    piece = found.piece
    return ReadAnswer(
        printable(path),
        piece.title,
        piece.instrument.tuning_text(),
        piece.capo,
        str(piece.meter),
        piece.tempo,
        str(piece.rules.thumb),
        str(piece.rules.fingers),
        [ReadPattern(n.name, print_pattern(n.pattern)) for n in piece.patterns],
        [ReadSection(s.name, print_chord_line(s.chords), s.pattern, s.repeats) for s in piece.sections],
        print_turns(piece.performance.turns),
        piece.performance.ending,
        [ReadException(e.section, e.bar, e.added, e.missing, e.kept) for e in found.exceptions],
        [guess_text(guess) for guess in found.guesses],
    )


def read_table(answer: ReadAnswer) -> str:
    """Patterns, sections, the bars that break them, what was supposed."""
    head = (
        f"{answer.title}: {answer.tuning}, capo {answer.capo}, {answer.meter}, {answer.tempo} beats a minute"
    )
    patterns = [[p.name, p.line] for p in answer.patterns]
    sections = [[s.name, s.pattern, f"x{s.repeats}", s.chords] for s in answer.sections]
    odd = [
        f"{e.section}, bar {e.bar}: {e.added} more, {e.missing} fewer ({e.kept or 'not kept'})"
        for e in answer.exceptions
    ]
    parts = [
        head,
        table(patterns, ["pattern", "line"]),
        table(sections, ["section", "pattern", "times", "chords"]),
        "\n".join(["bars that break their pattern:", *(odd or ["none"])]),
        "\n".join(answer.guesses),
    ]
    return "\n\n".join(parts)
