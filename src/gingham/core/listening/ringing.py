"""The ring check: each held string of a shape plucked by itself; clear, buzzing or dead, and likely causes.

A clear string loses 4 to 45 dB a second and its high partials sooner than its low ones (measured on six real
and sampled guitars); one that a finger touches dies many times faster; one that rattles on a fret keeps
sounding between its high partials.
"""

from __future__ import annotations

from typing import Literal

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.spectra import Floats
from gingham.core.listening.tuner import hz_of
from gingham.core.reasons import Reason
from gingham.core.shapes.fretting import THUMB, Fretting
from gingham.core.shapes.shape import Shape

State = Literal["clear", "buzzing", "dead", "unclear"]
JUDGED_S = 0.62
"""How much of a pluck is needed."""
_FRAME_S, _HOP_S = 0.06, 0.02
_PARTIALS = 8
_FROM, _TO = 4, 22  # frames between which the loss is taken
_RATTLE_FROM_S, _RATTLE_S = 0.1, 0.2
_RATTLE_HZ = (3_000.0, 9_000.0)
_BETWEEN = 30  # percentile of a spectrum: what lies between the partials, were they ever so many
_DEAD_DB_S, _PERHAPS_DEAD_DB_S = 95.0, 65.0
_BUZZ_DB, _PERHAPS_BUZZ_DB = -32.0, -36.0
_OVER_ROOM_DB = 6.0
_OWN = 0.35  # the least share of the sound in partials of the string
_TOLD_APART = 0.93
_NEAR = 0.018  # of a frequency: how far a partial may lie from its place
_START_DB, _QUIET = 9.0, 4e-3


class Ring(msgspec.Struct, frozen=True):
    """A pluck of a string: what became of it, how many dB a second it loses, how much it rattles in dB.

    `rattle_db` is what sounds between the partials from 3 to 9 kHz against the first eight partials.
    """

    string: int
    state: State
    loss_db_s: float
    rattle_db: float


def ring_of(
    samples: Floats, rate: int, pitches: dict[int, float], expected: int, room: Floats | None = None
) -> Ring:
    """What became of a pluck that begins with the samples and lasts JUDGED_S or more.

    `pitches` are MIDI numbers of the strings that are held; where the sound has none of them it is one of
    the `expected` string. `room` is what was heard before it: a noise that was there already is no rattle.
    """
    power, hz = _power(samples, rate)
    shares = {string: _share(power, hz, midi) for string, midi in pitches.items()}
    string = _plucked(shares, pitches, expected)
    low = _decibels(power[:, _partials(hz, pitches[string])].sum(axis=1))
    loss = float(low[_FROM] - low[_TO]) / ((_TO - _FROM) * _HOP_S)
    begin = int(_RATTLE_FROM_S * rate)
    between, partials = _between(samples[begin : begin + int(_RATTLE_S * rate)], rate, pitches[string])
    before = _between(room, rate, pitches[string])[0] if room is not None else 0.0
    rattle = float(_decibels(np.array(between / max(partials, 1e-12))))
    new = between > before * 10.0 ** (_OVER_ROOM_DB / 10.0)
    state = _state(loss, rattle if new else -99.0, shares[string], hidden=not new and rattle > _BUZZ_DB)
    return Ring(string, state, round(loss, 1), round(rattle, 1))


def _plucked(shares: dict[int, float], pitches: dict[int, float], expected: int) -> int:
    """The string that sounds: one an octave lower has all its partials too, so the highest one counts."""
    best = max(shares.values())
    if best < _OWN:
        return expected
    near = [string for string in shares if shares[string] >= _TOLD_APART * best]
    highest = max(pitches[string] for string in near)
    same = [string for string in near if pitches[string] == highest]
    return expected if expected in same else same[0]


def _state(loss: float, rattle: float, share: float, *, hidden: bool) -> State:
    """`hidden`: the room is so noisy that a rattle could not be heard in it."""
    if loss > _DEAD_DB_S:
        return "dead"
    if share < _OWN or loss > _PERHAPS_DEAD_DB_S or hidden:
        return "unclear"
    if rattle > _BUZZ_DB:
        return "buzzing"
    return "unclear" if rattle > _PERHAPS_BUZZ_DB else "clear"


def _between(samples: Floats, rate: int, midi: float) -> tuple[float, float]:
    """Power between the partials in the rattling band, and power of the first partials."""
    count = int(_RATTLE_S * rate)
    part = np.pad(samples[-count:], (0, max(0, count - len(samples)))) * np.blackman(count)
    size = 1 << (2 * count - 1).bit_length()
    power = np.abs(np.fft.rfft(part, size)) ** 2
    hz = np.arange(len(power)) * rate / size
    band = power[(hz > _RATTLE_HZ[0]) & (hz < min(_RATTLE_HZ[1], 0.45 * rate))]
    between = float(np.percentile(band, _BETWEEN)) * len(band) if len(band) else 0.0
    return between, float(power[_partials(hz, midi)].sum())


def _power(samples: Floats, rate: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Spectra of short frames as power, and their frequencies in hertz."""
    count, hop = int(_FRAME_S * rate), int(_HOP_S * rate)
    size = 1 << (4 * count - 1).bit_length()
    shape = np.hanning(count)
    frames = [samples[k * hop : k * hop + count] for k in range(_TO + 1)]
    whole = np.stack([np.pad(frame, (0, count - len(frame))) * shape for frame in frames])
    power = np.abs(np.fft.rfft(whole, size, axis=1)) ** 2
    return power, np.arange(power.shape[1]) * rate / size


def _partials(hz: NDArray[np.float64], midi: float) -> NDArray[np.bool_]:
    near = np.zeros(len(hz), bool)
    for n in range(1, _PARTIALS + 1):
        at = n * hz_of(midi)
        near |= np.abs(hz - at) < max(22.0, _NEAR * at)
    return near


def _share(power: NDArray[np.float64], hz: NDArray[np.float64], midi: float) -> float:
    """How much of what sounds early on lies at the partials of a pitch."""
    early = power[2:10].sum(axis=0)
    heard = (hz > 60.0) & (hz < 4_000.0)
    near = _partials(hz, midi) & heard
    return float(early[near].sum() / max(float(early[heard].sum()), 1e-12))


def _decibels(power: NDArray[np.float64]) -> NDArray[np.float64]:
    return 10.0 * np.log10(power + 1e-12)


class RingCheck:
    """Waits for plucks in what comes in, and judges each: strings in turn, in the player's own order."""

    def __init__(self, shape: Shape, pitches: dict[int, float], rate: int) -> None:
        self.shape, self._pitches, self._rate = shape, pitches, rate
        self.found: dict[int, Ring] = {}
        self._kept = np.zeros(0, dtype=np.float32)
        self._step = int(0.01 * rate)

    @property
    def expected(self) -> int | None:
        """The string to pluck next: the highest number that has not been heard; None when all have."""
        left = [string for string in self._pitches if string not in self.found]
        return max(left, default=None)

    def feed(self, block: Floats) -> list[Ring]:
        """What has come in since; the plucks that could be judged with it."""
        self._kept = np.concatenate([self._kept, block.astype(np.float32)])
        out = []
        while (expected := self.expected) is not None:
            begin = self._start()
            if begin is None or len(self._kept) - begin < int((JUDGED_S + _FRAME_S) * self._rate):
                break
            room = self._kept[max(0, begin - int(_RATTLE_S * self._rate)) : begin]
            ring = ring_of(self._kept[begin:], self._rate, self._pitches, expected, room)
            self.found[ring.string] = ring
            out.append(ring)
            self._kept = self._kept[begin + int(JUDGED_S * self._rate) :]
        return out

    def _start(self) -> int | None:
        """Where a pluck begins in what is kept; what lies long before is let go."""
        step = self._step
        count = len(self._kept) // step
        if count < 4:
            return None
        power = np.square(self._kept[: count * step]).reshape(count, step).mean(axis=1)
        level = 10.0 * np.log10(power + 1e-12)
        before = np.minimum(level[:-3], level[1:-2])
        rises = (level[3:] - before > _START_DB) & (power[3:] > _QUIET**2)
        if rises.any():
            return int(np.argmax(rises) + 2) * step
        self._kept = self._kept[max(0, count * step - int(_RATTLE_S * self._rate)) :]
        return None


def causes(shape: Shape, fretting: Fretting | None, ring: Ring) -> tuple[Reason, ...]:
    """Why a string may buzz or be dead, read from the shape: the likeliest first, more pressure last."""
    if ring.state not in ("buzzing", "dead"):
        return ()
    fret, count = shape.fret(ring.string) or 0, len(shape.frets)
    sign = {count - i: _sign(finger) for i, finger in enumerate(fretting.fingers if fretting else ())}
    own, out = sign.get(ring.string, "-"), list[Reason]()
    barred = own != "-" and list(sign.values()).count(own) > 1
    leaning = [
        other
        for other in (ring.string + 1, ring.string - 1)
        if 1 <= other <= count and (shape.fret(other) or 0) > fret and sign.get(other, "-") not in ("-", own)
    ]
    if fret and ring.state == "buzzing":
        out.append(Reason.of("ring-nearer", fret=fret, finger=own))
    out += [Reason.of("ring-leaning", finger=sign[other], string=other) for other in leaning]
    if barred:
        out.append(Reason.of("ring-barre", finger=own))
    if fret and ring.state == "dead":
        out.append(Reason.of("ring-nearer", fret=fret, finger=own))
    out.append(Reason.of("ring-pressure", finger=own) if fret else Reason.of("ring-open"))
    return tuple(out)


def _sign(finger: int) -> str:
    return "T" if finger == THUMB else str(finger) if finger else "-"
