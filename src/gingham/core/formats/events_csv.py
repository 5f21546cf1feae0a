"""The events of a performance as CSV: one row a string and place, in the order in which they sound."""

from __future__ import annotations

import csv
import io

from gingham.core.fitting.performance import Performance
from gingham.core.music.meter import seconds

COLUMNS = (
    "turn", "section", "round", "bar", "at", "count", "time_s", "chord", "finger", "string", "fret", "pitch",
    "midi", "degree", "accent", "kind",
)  # fmt: skip


def events_csv(performance: Performance) -> bytes:
    """UTF-8 with a heading; `at` is a fraction of a whole note in the bar, `time_s` without swing."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    piece = performance.results[0].piece
    begin = performance.results[0].bars[0].length * 0
    for turn, (result, times) in enumerate(zip(performance.results, performance.times, strict=True), 1):
        name = result.piece.sections[result.section].name
        for number in range(1, times + 1):
            for inside, bar in result.timed_bars():
                for event in bar.events:
                    if event.silent:
                        continue
                    chord = result.spans[result.span_at(bar, event.at)].span.chord
                    time = seconds(begin + inside + event.at, piece.meter, piece.tempo)
                    pitch = event.pitch
                    writer.writerow([
                        turn, _plain(name), number, bar.number, event.at, event.count, f"{time:.6f}",
                        chord.text if chord is not None else "", event.plucker or "", event.string,
                        "" if event.fret is None else event.fret, pitch or "",
                        pitch.midi if pitch is not None else "", event.degree or "", event.accent, event.kind,
                    ])  # fmt: skip
            begin += result.length()
    return out.getvalue().encode()


def _plain(name: str) -> str:
    """A name that no spreadsheet takes for a formula."""
    return f"'{name}" if name[:1] in "=+-@" else name
