"""Bars and spans of a long piece are made when somebody looks at them."""

from __future__ import annotations

import pytest

from gingham.core.fitting.fit import fit
from gingham.core.later import Later
from tests.conftest import make_piece


def test_bars_and_spans_are_made_when_they_are_looked_at() -> None:
    made: list[int] = []

    def make(index: int) -> int:
        made.append(index)
        return index * index

    later = Later(5, make)
    assert (later[3], later[-1], later[3], later[1:3]) == (9, 16, 9, (1, 4))
    assert made == [3, 4, 1, 2]
    assert later == (0, 1, 4, 9, 16) and hash(later) == hash((0, 1, 4, 9, 16))
    assert later != (0, 1, 4, 9) and sorted(made) == [0, 1, 2, 3, 4]
    with pytest.raises(IndexError):
        later[5]


@pytest.mark.parametrize(
    ("chords", "span", "bars"),
    [
        ("| C | G | C |", 1, [2]),
        ("| C | / | G |", 0, [1, 2]),
        ("| C G | C | G |", 1, [1]),
        ("| C G | / |", 1, [1, 2]),
    ],
)
def test_bars_of_a_span(chords: str, span: int, bars: list[int]) -> None:
    result = fit(make_piece(chords, "4/4 x2: p i m a"))
    assert [bar.number for bar in result.bars_of(span)] == bars
    assert [bar.number for bar in result.bars if span in bar.spans] == bars
    assert result.bar(9) is None
