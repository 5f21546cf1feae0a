"""What stands on a sheet: headings, shapes, sections with their bars and words, gathered from a piece."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise

import msgspec

from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.performance import Performance, perform
from gingham.core.fitting.result import Assignment, Result
from gingham.core.formats.notation import verses_of
from gingham.core.judging.departures import Departure, departures
from gingham.core.judging.holding import needed_fingers
from gingham.core.pieces.endings import goes_on
from gingham.core.pieces.lyrics import Syllable
from gingham.core.pieces.piece import Piece
from gingham.language import tr
from gingham.words.card import thumb_text
from gingham.words.form import jump_text
from gingham.words.names import signs
from gingham.words.naming import USUAL, Naming
from gingham.words.piece_text import about_text, tempo_text
from gingham.words.teacher import MeasuredSection

KINDS = ("sheet", "words", "card", "call", "facts", "pack")
SIZES = ("A4", "Letter")
_ENDING_WORDS = {
    "stop": "",
    "ring": tr("let it ring"),
    "pinch": tr("all fingers at once"),
    "roll": tr("slow roll"),
    "brush": tr("slow brush"),
    "fade": tr("fade out"),
    "loop": tr("round again"),
}
_MOST_VERSES = 4


class SheetOptions(msgspec.Struct, frozen=True):
    """What a player may choose of a sheet.

    `kind` is one of KINDS: the whole sheet, words and chords alone, a card of one pattern, the call
    sheet, all that is set, or everything as one pack.
    `large` is large print, `left_handed` mirrors the shapes, `lowest_on_top`
    turns the tablature over, `practice` takes the practice form, `report`
    adds measured spots for a teacher. `section` is the one whose pattern the card shows, `other_capo` a
    second capo of the call sheet (0 for none).
    """

    kind: str = "sheet"
    size: str = "A4"
    large: bool = False
    left_handed: bool = False
    practice: bool = False
    shapes: bool = True
    counts: bool = True
    words: bool = True
    report: bool = False
    section: int = 0
    other_capo: int = 0
    naming: Naming = USUAL
    lowest_on_top: bool = False
    measured: tuple[MeasuredSection, ...] = ()
    """What the record of practising shows, for the report."""

    def measured_in(self, section: str) -> MeasuredSection | None:
        """What was measured of a section, where the report is wanted."""
        found = (each for each in self.measured if each.name == section)
        return next(found, None) if self.report else None


class ShapeFace(msgspec.Struct, frozen=True):
    """A chord diagram: both names, each string's fret (None is x), finger, and whether it is needed."""

    name: str
    sounds: str
    thumb: str
    on: Assignment
    needed: tuple[bool, ...]


class SheetSection(msgspec.Struct, frozen=True):
    """A section: its fit, the words of its verses, where it leaves its pattern."""

    name: str
    times: int
    pattern: str
    result: Result
    verses: tuple[tuple[Syllable, ...], ...]
    words: Mapping[int, tuple[tuple[Syllable, ...], ...]]
    """The syllables of each bar, verse by verse."""
    departures: tuple[Departure, ...]
    jump: str = ""
    """Where it goes on, where that is not the section beneath it."""


class SheetContent(msgspec.Struct, frozen=True):
    """Everything a sheet says."""

    piece: Piece
    title: str
    facts: str
    order: str
    sections: tuple[SheetSection, ...]
    shapes: tuple[ShapeFace, ...] = msgspec.field(default=())


def sheet_content(piece: Piece, options: SheetOptions, cache: FitCache | None = None) -> SheetContent:
    """Gather the sheet of a piece; sections are empty where it has no chords.

    Raises
    ------
    GinghamError
        If the piece cannot be fitted.
    """
    performance = perform(piece, practice=options.practice, cache=cache)
    unique: dict[int, tuple[Result, int]] = {}
    for fitted, count in zip(performance.results, performance.times, strict=True):
        unique.setdefault(fitted.section, (fitted, count))
    plain = len(unique) == len(performance.results)
    names = [section.name for section in piece.sections]
    following = {
        one: names[other] if other < len(names) else ""  # the ending stands behind the piece's sections
        for one, other in pairwise(unique)
    }
    sections = tuple(
        SheetSection(
            result.piece.sections[result.section].name,
            times if plain else 1,
            result.piece.sections[result.section].pattern,
            result,
            (verses := tuple(verses_of(result)[:_MOST_VERSES])),
            _by_bar(verses),
            departures(result),
            jump_text(
                goes_on(piece, result.piece.sections[result.section].name, options.practice),
                following.get(result.section, ""),
            ),
        )
        for result, times in unique.values()
    )
    return SheetContent(
        piece,
        piece.title or tr("Untitled"),
        _facts(piece),
        _order(piece, performance, options.practice),
        sections,
        tuple(_shapes(sections)),
    )


def _by_bar(verses: tuple[tuple[Syllable, ...], ...]) -> dict[int, tuple[tuple[Syllable, ...], ...]]:
    out: dict[int, list[list[Syllable]]] = {}
    for number, verse in enumerate(verses):
        for syllable in verse:
            out.setdefault(syllable.bar, [[] for _ in verses])[number].append(syllable)
    return {bar: tuple(map(tuple, rows)) for bar, rows in out.items()}


def _facts(piece: Piece) -> str:
    tempo = tr("{tempo} beats a minute", tempo=piece.tempo)
    return f"{about_text(piece)}  ·  {tempo} {tempo_text(piece)}".rstrip()


def _order(piece: Piece, performance: Performance, practice: bool) -> str:
    """`Verse · Refrain ×2 · slow roll`."""
    turns = [f"{t.section} ×{t.times}" if t.times > 1 else t.section for t in piece.turns(practice)]
    ending = _ENDING_WORDS[piece.form(practice).ending]
    return "  ·  ".join([*turns, ending] if ending else turns)


def _shapes(sections: tuple[SheetSection, ...]) -> list[ShapeFace]:
    """Every chord, shape and fingering once, in order of appearance; what any passage needs is needed."""
    found: dict[tuple[object, ...], ShapeFace] = {}
    for section in sections:
        for fitted in section.result.spans:
            assignment = fitted.assignment
            if assignment is None:
                continue
            needed = needed_fingers(fitted)
            count = len(assignment.shape.frets)
            fingers = assignment.fretting.fingers if assignment.fretting is not None else (0,) * count
            marks = tuple(
                finger in needed if fret and finger else count - i in fitted.strings
                for i, (fret, finger) in enumerate(zip(assignment.shape.frets, fingers, strict=True))
            )
            key = (assignment.chord.text, assignment.shape, fingers)
            if key in found:
                marks = tuple(a or b for a, b in zip(marks, found[key].needed, strict=True))
            sounds = signs(assignment.sounding.text) if section.result.piece.capo else ""
            found[key] = ShapeFace(
                signs(assignment.chord.text), sounds, thumb_text(assignment), assignment, marks
            )
    return list(found.values())
