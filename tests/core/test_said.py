"""Patterns said in the words of all schools: what is likeliest, and what means nothing."""

from __future__ import annotations

from pathlib import Path

import pytest

from gingham.core.errors import PatternError
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.music.meter import parse_meter
from gingham.core.patterns.said import read_said
from gingham.core.patterns.shorthand import print_pattern
from gingham.words.bench import bench_text

ROWS = [
    line.split("\t")
    for line in (Path(__file__).parent.parent / "data" / "said.tsv").read_text().splitlines()
    if not line.startswith("#")
]


@pytest.mark.parametrize(("on", "of", "said", "likeliest"), ROWS)
def test_the_likeliest_reading_comes_first(on: str, of: str, said: str, likeliest: str) -> None:
    found = read_said(said, CATALOGUE[on].strings, None if of == "-" else parse_meter(of))
    assert print_pattern(found.ways[0].pattern) == likeliest
    assert all(bench_text(way.reason) for way in found.ways)
    assert len(
        {(way.pattern.meter, way.pattern.per_beat, way.pattern.slots, way.align) for way in found.ways}
    ) == len(found.ways)


@pytest.mark.parametrize(
    ("said", "word"),
    [
        ("pointer elbow", "elbow"),
        ("T I Q", "Q"),
        ("6 3 0", "0"),
        ("thumb 7 1", "7"),
        ("p1 i", "p1"),
        ("x", "x"),
    ],
)
def test_a_word_that_means_nothing_is_named(said: str, word: str) -> None:
    with pytest.raises(PatternError) as caught:
        read_said(said)
    assert said[caught.value.start : caught.value.end] == word


def test_nothing_and_too_much_are_refused() -> None:
    for said in ("", " , ", ". .", "thumb " * 300):
        with pytest.raises(PatternError):
            read_said(said)


def test_a_pinch_is_supposed_to_be_thumb_and_middle() -> None:
    assert [reason.code for reason in read_said("pinch thumb").supposed] == ["spoken-pinch"]
    assert read_said("thumb index").supposed == ()
