"""The sub-commands that read and write files of other programs: `read` and `export`."""

from __future__ import annotations

import argparse
from pathlib import Path

from gingham.arguments import OneLineParser
from gingham.cli.command import Answer, Command, read, table
from gingham.cli.records import ExportAnswer, ReadAnswer, ReadException, ReadPattern, ReadSection
from gingham.core.finding.find import Found, find
from gingham.core.formats.imports import READERS, read_part
from gingham.core.formats.piece_file import load_piece, save_piece
from gingham.core.formats.sound_choice import SoundChoice
from gingham.core.patterns.shorthand import print_pattern
from gingham.core.pieces.chordline import print_chord_line
from gingham.core.pieces.form import print_turns
from gingham.core.pieces.rules import check_choice
from gingham.core.sound.timeline import COUNT_INS
from gingham.paper.content import KINDS, SIZES, SheetOptions
from gingham.paper.exports import SHEETS, SUFFIXES, check_suffix, export
from gingham.words.errors import printable
from gingham.words.importing import guess_text


def _define_export(parser: OneLineParser) -> None:
    parser.add_argument("piece", type=Path)
    parser.add_argument("out", type=Path, help=" ".join(SUFFIXES))
    parser.add_argument("--clicks", default="none", metavar="none|beats|all", help="clicks in the sound")
    parser.add_argument("--count-in", default="none", metavar=f"none|{'|'.join(COUNT_INS)}")
    parser.add_argument("--only", default="pimacf", metavar="pimacf", help="layers heard; f: fretting hand")
    parser.add_argument("--sheet", default="sheet", metavar="|".join(KINDS), help="what a sheet shows")
    parser.add_argument("--paper", default="A4", metavar="|".join(SIZES))
    parser.add_argument("--large", action="store_true", help="large print")
    parser.add_argument("--left-handed", action="store_true", help="shapes mirrored")
    parser.add_argument(
        "--lowest-on-top", action="store_true", help="tablature with the lowest string on top"
    )


def _define_read(parser: OneLineParser) -> None:
    parser.add_argument("file", type=Path, help=" ".join(READERS))
    parser.add_argument("--out", type=Path, metavar="PIECE", help="save what was found as a piece")


def _export(options: argparse.Namespace) -> Answer:
    clicks = ("none", "beats", "all")
    level = clicks.index(read("--clicks", options.clicks, lambda text: check_choice(text, clicks, "clicks")))
    known = ("none", *COUNT_INS)
    count_in = read("--count-in", options.count_in, lambda text: check_choice(text, known, "count-in"))
    muted = frozenset(finger.replace("f", "") for finger in "pimacf" if finger not in options.only)
    choice = SoundChoice(level, count_in.replace("none", ""), muted)
    sheet = SheetOptions(
        read("--sheet", options.sheet, lambda text: check_choice(text, KINDS, "sheet")),
        read("--paper", options.paper, lambda text: check_choice(text, SIZES, "paper")),
        options.large,
        options.left_handed,
        lowest_on_top=options.lowest_on_top,
    )
    answer = export_answer(options.piece, options.out, choice, sheet)
    return answer, f"{options.out}: {answer.bytes} bytes"


def _read_part(options: argparse.Namespace) -> Answer:
    answer = read_answer(options.file, options.out)
    return answer, read_table(answer)


def export_answer(piece: Path, out: Path, choice: SoundChoice, sheet: SheetOptions) -> ExportAnswer:
    """The answer of `gingham export`; FileError for what cannot be read or written."""
    loaded = load_piece(piece)
    keep = None
    if check_suffix(out) in SHEETS:
        from gingham.paper.output import ready  # draws with Qt, which other formats never need

        keep = ready()
    written = export(loaded, out, choice=choice, sheet=sheet)
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


EXPORT = Command(_define_export, _export)
READ = Command(_define_read, _read_part)
