"""Everything that is set of a piece, in groups of lines: for the print pack."""

from __future__ import annotations

from gingham.core.instruments.retune import pegs
from gingham.core.pieces.piece import Piece
from gingham.core.pieces.way import Way, own_choices
from gingham.language import tr
from gingham.words.form import ENDING_NAMES
from gingham.words.names import signs
from gingham.words.piece_text import about_text
from gingham.words.tuning import peg_text
from gingham.words.way import choice_text, rule_lines


def fact_groups(piece: Piece) -> list[tuple[str, list[str]]]:
    """(title, lines) of every group that has something to say."""
    groups = [
        (tr("Strings"), [about_text(piece), *(peg_text(peg) for peg in pegs(piece.instrument))]),
        (tr("Tempo"), [tr("{tempo} beats a minute, {feel}", tempo=piece.tempo, feel=_feel(piece))]),
        (tr("Form"), _form(piece)),
        (tr("How it is played"), rule_lines(piece.rules)),
        (tr("Exceptions"), _exceptions(piece)),
        (tr("Remarks"), [piece.notes] if piece.notes else []),
        (tr("Versions"), [f"{version.when[:10]}: {version.note}" for version in piece.versions]),
    ]
    return [(title, lines) for title, lines in groups if lines]


def _feel(piece: Piece) -> str:
    return tr("straight") if piece.swing * 2 == 1 else tr("swung {swing}", swing=piece.swing)


def _form(piece: Piece) -> list[str]:
    lines = [
        tr(
            "{name}: {bars} bars, {pattern}",
            name=section.name,
            bars=len(section.chords.bars),
            pattern=section.pattern,
        )
        + (tr(", {repeats} times in a row", repeats=section.repeats) if section.repeats > 1 else "")
        for section in piece.sections
    ]
    for practice, name in ((False, tr("Performance")), (True, tr("Practice"))):
        order = ", ".join(
            f"{t.section} ×{t.times}" if t.times > 1 else t.section for t in piece.turns(practice)
        )
        lines.append(
            tr(
                "{name}: {order}; ending: {ending}.",
                name=name,
                order=order,
                ending=ENDING_NAMES[piece.form(practice).ending],
            )
        )
    return lines


def _exceptions(piece: Piece) -> list[str]:
    """What sections, chords and single places do otherwise than the piece."""
    found = own_choices(piece, Way(rules=piece.rules))
    return [
        f"{signs(each.where)}, {choice_text(each)}"
        if each.scope in ("section", "bar", "place")
        else choice_text(each)
        for each in found
    ]
