"""Sparser and denser versions, and how long one pattern goes on: worked out by hand."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.fitting.fit import fit
from gingham.core.fitting.performance import perform
from gingham.core.judging.monotony import longest_sameness
from gingham.core.patterns.density import density_versions, plucked
from gingham.core.patterns.library import builtin
from gingham.core.patterns.shorthand import parse_pattern, print_pattern
from gingham.core.pieces.edits import name_for
from gingham.core.values import replace
from gingham.words.form import density_text, sameness_text
from tests.conftest import make_piece


@pytest.mark.parametrize(
    ("pattern", "kind", "version"),
    [
        ("4/4 x2: p+m . p i p m p i", "thumb", "4/4 x2: p . p . p . p ."),
        ("4/4 x2: p+m . p i p m p i", "beats", "4/4 x2: p+m . p . p . p ."),
        ("4/4 x2: p+m . p i p m p i", "open-end", "4/4 x2: p+m . p i p m p ."),
        ("4/4 x2: p+m . p i p m p i", "filled", "4/4 x2: p+m i p i p m p i"),
        ("4/4 x2: p i m a p i m a", "beats", "4/4 x2: p . m . p . m ."),
        ("4/4 x2: p . . . p . i m", "filled", "4/4 x2: p i . m p i i m"),
        ("3/4 x1: p i m", "thumb", "3/4 x1: p . ."),
        ("6/8 x3: p i m a m i", "beats", "6/8 x3: p . . a . ."),
        ("4/4 x2: p i k . p i k .", "thumb", "4/4 x2: p . . . p . . ."),
    ],
)
def test_versions_of_a_pattern(pattern: str, kind: str, version: str) -> None:
    """Beats of 4/4 are places 1 3 5 7 of eight; of 6/8 two; the finger that rested longest fills a rest."""
    read = parse_pattern(pattern)
    found = {each.kind: each.pattern for each in density_versions(read)}
    assert print_pattern(found[kind]).replace(" ;", "") == print_pattern(parse_pattern(version)).replace(
        " ;", ""
    )


@given(st.sampled_from([pattern for _, pattern in builtin()]))
def test_every_version_can_be_played_and_keeps_the_thumb(pattern) -> None:
    """From sparse to dense, each another one, the thumb in its places, each fits."""
    versions = density_versions(pattern)
    assert [v.plucked for v in versions] == sorted(plucked(v.pattern) for v in versions)
    thumbs = [i for i, s in pattern.strokes() if getattr(s, "finger", "") == "p"]
    for version in versions:
        assert version.pattern != pattern and density_text(version, len(pattern.slots))
        assert [i for i, s in version.pattern.strokes() if getattr(s, "finger", "") == "p"] == thumbs
        assert fit(make_piece("| G | C |", print_pattern(version.pattern))).bars


def test_how_long_one_pattern_goes_on() -> None:
    """Two bars four times are eight; a bar of its own breaks it; a short piece is not worth a word."""
    piece = make_piece("| G | C |")
    section = replace(piece.sections[0], repeats=4)
    same = longest_sameness(perform(replace(piece, sections=(section,))))
    assert (same.pattern, same.bars, same.section) == ("Mine", 8, "Verse") and "8 bars" in sameness_text(same)
    broken = parse_pattern("4/4 x2: p . p . p . p .")
    two = replace(
        piece,
        patterns=(*piece.patterns, replace(piece.patterns[0], name="Fill", pattern=broken)),
        sections=(replace(section, bars=(own_bar(2, "Fill"),)),),
    )
    assert longest_sameness(perform(two)).bars == 1
    assert name_for(broken, "Fill", two) == "Fill"
    assert name_for(parse_pattern("4/4 x1: p p p p"), "Fill", two) == "Fill 2"


def own_bar(bar: int, name: str):
    from gingham.core.pieces.piece import BarPattern

    return BarPattern(bar, name)
