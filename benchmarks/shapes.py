"""Shapes for one symbol, and eight chords in context, after import; against the same search without pruning.

Run: `.venv/bin/python -m benchmarks.shapes`. Budgets: one symbol 20 ms, eight chords in context 150 ms,
both not seen before.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.music.chords import parse_chord
from gingham.core.shapes import context, fretting, search

SYMBOLS = (
    "C",
    "D",
    "E",
    "F",
    "G",
    "A",
    "Bm",
    "F#m",
    "Am7",
    "Dm7",
    "G7",
    "Cmaj7",
    "E7#9",
    "D/F#",
    "Bb",
    "Asus2",
)
PROGRESSION = ("G", "D/F#", "Em7", "C", "Am7", "D7", "Bm", "Cadd9")


def forget() -> None:
    """Empty every cache of the search."""
    for cached in (search.shapes_for, fretting.frettings, context._states):
        cached.cache_clear()


def times(what: Callable[[str], object], words: tuple[str, ...]) -> list[float]:
    """Milliseconds of each call, nothing remembered between them."""
    out = []
    for word in words:
        forget()
        began = time.perf_counter()
        what(word)
        out.append(1000 * (time.perf_counter() - began))
    return out


def unpruned(symbol: str) -> None:
    """The same walk with every shape looked at closely."""
    chord, on = parse_chord(symbol), CATALOGUE["guitar"]
    walked = search._walk(search._wanted(chord, on, search.HIGHEST_FRET, chord.bass_note.pitch_class))
    search._easiest(walked, chord, on, len(walked))


def main() -> None:
    """Print median and worst."""
    on = CATALOGUE["guitar"]
    line = [[context.Wish(parse_chord(symbol)) for symbol in PROGRESSION]]
    rows = (
        ("shapes for one symbol", times(lambda s: search.shapes_for(parse_chord(s), on, 0), SYMBOLS), 20),
        ("eight chords in context", times(lambda _s: context.grips_for(line, on), ("",) * 9), 150),
        ("reference: one symbol, unpruned", times(unpruned, SYMBOLS), 0),
    )
    for name, found, budget in rows:
        limit = f"   (budget {budget} ms)" if budget else ""
        print(f"{name:32} median {statistics.median(found):6.1f} ms   worst {max(found):6.1f} ms{limit}")


if __name__ == "__main__":
    main()
