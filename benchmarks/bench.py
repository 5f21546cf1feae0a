"""The pattern bench: fingers for a line, audition of the library on a long piece, variations ranked.

Run: `.venv/bin/python -m benchmarks.bench`. Budgets: fingers for 64 strokes in 20 ms, 40 patterns on 64 bars
in 1 s.
References in the same run: the same line with every state kept (no beam), and every pattern fitted by itself
with nothing shared.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from random import Random

from gingham.app.session.document import empty_piece
from gingham.core.bench.audition import audition
from gingham.core.bench.ranking import best_fix, ranked
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.hands import picking
from gingham.core.hands.motor import MOTORS
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.judging.changes import changes
from gingham.core.judging.speed import hand_limit
from gingham.core.patterns.library import builtin
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.values import replace

STROKES, PATTERNS, BARS = 64, 40, 64
_FOUR = "| G | Am7 | Dsus4 D | Em7{022030} | C | G/B{x20033} | Am7 | D "


def timed(work: Callable[[], object], times: int) -> str:
    """Median and worst in milliseconds."""
    out = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        out.append(1000 * (time.perf_counter() - began))
    return f"median {statistics.median(out):8.2f} ms   worst {max(out):8.2f} ms"


def lines() -> list[tuple[picking.Placed, ...]]:
    """Twenty random lines, single strings and pinches, slow and fast."""
    out = []
    for seed in range(20):
        draw = Random(seed)
        gap_s = draw.choice([0.12, 0.18, 0.25, 0.4])
        strings = [draw.choice([(6,), (4,), (3, 1), (2,), (1,), (5, 2), (3,)]) for _ in range(STROKES)]
        out.append(tuple(picking.Placed(i * gap_s, s) for i, s in enumerate(strings)))
    return out


def fingers() -> None:
    """The beam against every state kept: time, and how often the beam costs more."""
    hand, motor = picking.hand_on(CATALOGUE["guitar"], "pima"), MOTORS["growing"]
    every = lines()
    found = [picking.fingers_for(line, hand, motor).cost for line in every]
    shown = timed(lambda: [picking.fingers_for(line, hand, motor) for line in every[:1]], 20)
    print(f"fingers for {STROKES} strokes        {shown}   (budget 20 ms)")
    width, picking._WIDTH = picking._WIDTH, 100_000
    best = [picking.fingers_for(line, hand, motor).cost for line in every]
    print(f"reference: no state dropped    {timed(lambda: picking.fingers_for(every[0], hand, motor), 5)}")
    picking._WIDTH = width
    worse = sum(a > b + 1e-9 for a, b in zip(found, best, strict=True))
    print(f"  costlier than the best way: {worse} of {len(every)} lines")


def main() -> None:
    """Print the figures."""
    fingers()
    base = empty_piece()
    line = parse_chord_line(_FOUR * (BARS // 8) + "|", base.meter)
    piece = replace(base, sections=(replace(base.sections[0], chords=line),))
    patterns = (list(builtin()) * 2)[:PATTERNS]
    fit(piece)  # chord shapes have been seen before, as in the window
    shown = timed(lambda: list(audition(piece, 0, patterns)), 5)
    print(f"audition {PATTERNS} × {BARS} bars       {shown}   (budget 1000 ms)")
    results = [each.result for each in audition(piece, 0, patterns)]

    def alone() -> None:
        for result in results:
            again = fit(result.piece, 0, FitCache())
            hand_limit(again, "growing")
            changes(again)

    print(f"reference: nothing shared      {timed(alone, 3)}")
    print(f"variations ranked              {timed(lambda: list(ranked(piece, 0)), 3)}")
    result = fit(piece)
    limit = hand_limit(result, "growing")
    print(f"the best single change         {timed(lambda: best_fix(result, limit, FitCache()), 3)}")


if __name__ == "__main__":
    main()
