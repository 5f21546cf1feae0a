"""What all readers of parts share: limits, the instrument for a tuning, tempos."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

from gingham.core.errors import FileError, InputError
from gingham.core.instruments.instrument import CATALOGUE, Instrument, retuned
from gingham.core.music.meter import Meter
from gingham.core.pieces.tempo import FASTEST_BPM, SLOWEST_BPM

MAX_BARS = 10_000
MAX_NOTES = 30_000
USUAL_TEMPO = 80

Tick = Callable[[float], bool]
"""Told the share that is done, 0 to 1; False says that the reading is to stop."""


def go_on(tick: Tick | None, share: float) -> None:
    """Tell how much is read; FileError `reading-stopped` if it is to stop."""
    if tick is not None and not tick(share):
        raise FileError("reading-stopped")


def instrument_for(tuning: list[str], strings: int, name: str) -> tuple[Instrument, bool]:
    """The instrument with a tuning (highest string number first), and whether it was guessed.

    Without a tuning: a guitar, a ukulele where no more than four strings are named.

    Raises
    ------
    FileError
        If no plucked instrument is strung like that.
    """
    if not tuning:
        if strings > CATALOGUE["guitar"].strings:
            raise FileError("part-strings", path=name, strings=strings)
        return CATALOGUE["ukulele" if 0 < strings <= 4 else "guitar"], True
    text = " ".join(tuning)
    for each in CATALOGUE.values():
        if each.tuning_text() == text:
            return each, False
    try:
        base = CATALOGUE["ukulele" if len(tuning) == 4 else "guitar"]
        return retuned(base, text), False
    except InputError as error:
        raise FileError("part-tuning", path=name, tuning=text[:60], why=error) from error


def tempo_in_beats(quarters: float, meter: Meter) -> int:
    """A tempo in quarters a minute as counted beats a minute; the usual one if there is none."""
    if not quarters:
        return USUAL_TEMPO
    beats = round(quarters / float(meter.tempo_beat * 4))
    return min(max(SLOWEST_BPM, beats), FASTEST_BPM)


def quarters_of(tempo: int, meter: Meter) -> Fraction:
    """Counted beats a minute as quarters a minute."""
    return tempo * meter.tempo_beat * 4
