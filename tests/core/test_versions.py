"""Versions inside the piece's file, what has changed since, and all that is set on paper."""

from __future__ import annotations

import pytest

from gingham.core.errors import EditError, FileError
from gingham.core.formats.piece_file import piece_from_bytes, piece_to_bytes
from gingham.core.formats.versions import at_version, differences, with_version, without_version
from gingham.core.instruments.instrument import instrument
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.edits import add_section, reshape_pattern
from gingham.core.pieces.form import Form
from gingham.core.pieces.piece import Piece
from gingham.core.pieces.rules import Rules, parse_thumb
from gingham.core.values import replace
from gingham.words.facts import fact_groups
from gingham.words.versions import changed_text
from tests.conftest import make_piece

WHEN = "2026-11-30T10:15:00"


def changed() -> tuple[Piece, Piece]:
    """A piece, and the same after an evening."""
    before = make_piece("| G | C |", tempo=72)
    after = add_section(make_piece("| G | Am |", tempo=80, capo=2), 0)
    after = replace(
        after,
        instrument=instrument("guitar", "D2 A2 D3 G3 B3 E4"),
        rules=Rules(parse_thumb("root-fifth"), hold="whole"),
        performance=Form(ending="roll"),
    )
    return before, reshape_pattern(after, "Mine", parse_pattern("4/4 x2: p . p i ; p m p i"))


def test_what_has_changed_is_said_field_by_field() -> None:
    """Both ways round; nothing between a piece and itself."""
    before, after = changed()
    assert [changed_text(each) for each in differences(before, after)] == [
        "Capo: 0, now 2.",
        "Tempo: 72, now 80.",
        "Tuning: E2 A2 D3 G3 B3 E4, now D2 A2 D3 G3 B3 E4.",
        "The thumb: alternating bass (6-4, 5-4, 4-3), now root and fifth.",
        "The fretting hand holds: what is plucked, now the whole shape.",
        "Verse: chords | G | C |, now | G | Am |.",
        "Verse 2: new.",
        "Mine: other plucks.",
        "Changed: the order or ending of the performance.",
    ]
    assert "Verse 2: gone." in [changed_text(each) for each in differences(after, before)]
    assert differences(after, after) == ()


def test_versions_live_in_the_file_and_come_back() -> None:
    """Kept, saved, read, gone back to: all other versions stay; one is removed without the others."""
    before, after = changed()
    kept = with_version(before, "  as it was  ", WHEN)
    grown = with_version(replace(after, versions=kept.versions), "evening", WHEN)
    again = piece_from_bytes(piece_to_bytes(grown))
    assert again == grown and [v.note for v in again.versions] == ["as it was", "evening"]
    back = at_version(again, 0)
    assert replace(back, versions=()) == before and back.versions == again.versions
    assert [v.note for v in without_version(again, 0).versions] == ["evening"]


def test_what_cannot_be_kept_or_read_is_said() -> None:
    """The same twice, too many, and one that was damaged by hand."""
    piece = with_version(make_piece("| G |"), "", WHEN)
    with pytest.raises(EditError, match="version-same"):
        with_version(piece, "again", WHEN)
    with pytest.raises(EditError, match="versions-many"):
        with_version(replace(piece, tempo=90, versions=piece.versions * 100), "", WHEN)
    (version,) = piece.versions
    damaged = replace(piece, versions=(replace(version, text=version.text.replace("| G |", "| H |")),))
    with pytest.raises(FileError):
        at_version(piece_from_bytes(piece_to_bytes(damaged)), 0)


def test_all_that_is_set_stands_in_groups() -> None:
    """Strings with their pegs, form, rules, what is otherwise, versions; empty groups are left out."""
    _, after = changed()
    groups = dict(fact_groups(with_version(after, "evening", WHEN)))
    assert "String 6 down 2 semitones to D: an octave below string 4 open." in groups["Strings"]
    assert groups["Form"][-2] == "Performance: Verse, Verse 2; ending: slow roll."
    assert "The thumb: root and fifth" in groups["How it is played"]
    assert groups["Versions"] == ["2026-11-30: evening"] and "Exceptions" not in groups
