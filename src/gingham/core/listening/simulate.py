"""A player that is not there: takes of any piece with chosen faults, and the truth of what was played."""

from __future__ import annotations

from random import Random

import msgspec
import numpy as np

from gingham.core.errors import NumberError
from gingham.core.listening.plan import Planned, TakePlan
from gingham.core.listening.simulate_noises import noises
from gingham.core.listening.spectra import Floats
from gingham.core.pieces.piece import Piece
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import Samples, pluck
from gingham.core.sound.timeline import SoundedNote
from gingham.core.sound.voices import Kind, kind_of, timbre_of

BOUNDS: dict[str, tuple[float, float]] = {
    "jitter": (0.0, 200.0), "gallop": (-200.0, 200.0), "drift": (-50.0, 50.0), "thumb": (-30.0, 20.0),
    "hesitate": (0.0, 3000.0), "wrong": (0.0, 500.0), "missed": (0.0, 500.0), "extra": (0.0, 500.0),
    "detune": (-300.0, 300.0), "tempo": (30.0, 300.0), "noise": (-100.0, 0.0), "room": (0.0, 5.0),
    "clip": (0.0, 40.0), "bars": (1.0, 100_000.0), "accent": (-20.0, 20.0), "one": (-20.0, 20.0),
    "dead": (1.0, 10.0), "cut": (0.0, 1000.0), "tap": (-60.0, 0.0), "squeak": (-60.0, 0.0),
}  # fmt: skip
"""Faults with the values they can have.

`jitter` ms (standard deviation), `gallop` ms that the index is late, `drift` percent faster at the end,
`thumb` dB louder than planned, `hesitate` ms at every third change, `wrong`, `missed`, `extra` how many
plucks, `detune` cents, `tempo` beats a minute, `noise` dB below full scale, `room` seconds of reverberation,
`clip` dB of overload, `bars` after which the take breaks off, `accent` dB of a written accent (5 without it),
`one` dB of the bass on 1, `dead` the number of a string that does not ring, `cut` by how many ms every note
is stopped before it needs to be, `tap` and `squeak` dB of a foot on the beats and of fingers at changes (at 0
as loud as the loudest moment).
"""
LEAD_S = 1.2
"""What a take holds before its first pluck."""
_RING_S = 2.5
_STOP = 96
_LEVEL_DB = 2.0  # plucks of a real hand differ by so much
_ACCENT_DB = 5.0
_DEAD_DB_S = 150.0
_EVERY = 3
_ROOM_DB = -8.0  # the room against the instrument


class Played(msgspec.Struct, frozen=True, gc=False):
    """A pluck as it was played: when it starts in the take, and what it stands for (an index of the plan)."""

    t_s: float
    string: int
    midi: int
    gain_db: float
    planned: int | None
    kind: str


class Take(msgspec.Struct, frozen=True):
    """A simulated take: samples in mono, what was played, and the planned plucks that were left out."""

    samples: Floats
    rate: int
    played: tuple[Played, ...]
    missed: tuple[int, ...]


def read_fault(text: str) -> tuple[str, float]:
    """`gallop=40` as a kind and a value; NumberError if there is no such kind or value."""
    kind, _, value = text.partition("=")
    if kind not in BOUNDS:
        raise NumberError("fault-kind", text=kind, known=tuple(BOUNDS))
    low, high = BOUNDS[kind]
    try:
        number = float(value)
    except ValueError:
        number = high + 1
    if not low <= number <= high:
        raise NumberError("fault-value", kind=kind, low=f"{low:g}", high=f"{high:g}")
    return kind, number


def simulate(piece: Piece, plan: TakePlan, faults: dict[str, float], seed: int = 1) -> Take:
    """Play a plan on the piece's own strings with faults; the same seed plays the same take."""
    played, missed = _played(plan, faults, Random(seed))
    kind = kind_of(piece)
    sound = rendered(played, kind, faults)
    if "tap" in faults or "squeak" in faults:
        at_s = _times(plan, faults | {"jitter": 0.0, "gallop": 0.0}, Random(seed))
        moments = [at_s[moment[0]] for moment in plan.moments]
        sound /= max(1e-6, float(np.abs(sound).max()))
        sound += noises(plan, moments, faults, np.random.default_rng(seed), len(sound))
    return Take(_recorded(sound, faults, seed), RATE_HZ, tuple(played), tuple(missed))


def _played(plan: TakePlan, faults: dict[str, float], random: Random) -> tuple[list[Played], list[int]]:
    """Every pluck with its time, string and level."""
    when = _times(plan, faults, random)
    able = [i for i, p in enumerate(plan.plucks) if p.kind == "pluck" and p.bar <= faults.get("bars", 1e9)]
    random.shuffle(able)
    counts = [int(faults.get(name, 0)) for name in ("missed", "wrong", "extra")]
    missed, wrong = set(able[: counts[0]]), set(able[counts[0] : counts[0] + counts[1]])
    extra = able[sum(counts[:2]) : sum(counts)]
    out = []
    for i, planned in enumerate(plan.plucks):
        if i in missed or planned.bar > faults.get("bars", 1e9):
            continue
        string, midi, kind = planned.string, planned.midi, "ok"
        other = _neighbour(plan, planned, random) if i in wrong else None
        if other is not None:
            (string, midi), kind = other, "wrong"
        out.append(Played(when[i], string, midi, _level(planned, faults, random), i, kind))
    for i in extra:
        other = _neighbour(plan, plan.plucks[i], random)
        if other is not None:
            at = when[i] + random.uniform(0.35, 0.65) * _step(plan, i, when)
            out.append(Played(at, *other, random.uniform(-9.0, -4.0), None, "extra"))
    out.sort(key=lambda p: p.t_s)
    return out, sorted(missed)


def _times(plan: TakePlan, faults: dict[str, float], random: Random) -> list[float]:
    """When each planned pluck is played."""
    slower = plan.tempo / faults.get("tempo", plan.tempo)
    whole = max(plan.times[-1], 1e-3)
    drift = faults.get("drift", 0.0) / 100.0
    waited, changes, out = 0.0, 0, [0.0] * len(plan.plucks)
    for k, moment in enumerate(plan.moments):
        if plan.changes(k):
            waited += faults.get("hesitate", 0.0) / 1000.0 if changes % _EVERY == 0 else 0.0
            changes += 1
        t = plan.times[k] * slower
        t -= 0.5 * drift * slower * plan.times[k] ** 2 / whole
        for i in moment:
            late = faults.get("gallop", 0.0) / 1000.0 if plan.plucks[i].finger == "i" else 0.0
            own = random.gauss(0.0, faults.get("jitter", 0.0) / 1000.0)
            out[i] = max(0.05, LEAD_S + t + waited + late + own)
    return out


def _step(plan: TakePlan, pluck: int, when: list[float]) -> float:
    """How long it is to the next moment."""
    later = [when[m[0]] for m in plan.moments if plan.plucks[m[0]].t_s > plan.plucks[pluck].t_s + 1e-6]
    return min(1.0, max(0.1, (later[0] if later else when[pluck] + 0.5) - when[pluck]))


def _neighbour(plan: TakePlan, planned: Planned, random: Random) -> tuple[int, int] | None:
    """A string beside the planned one that the chord sounds."""
    moment = next(k for k, m in enumerate(plan.moments) if planned in (plan.plucks[i] for i in m))
    strings = plan.strings_at(moment)
    taken = {plan.plucks[i].string for i in plan.moments[moment]}
    near = [s for s in (planned.string - 1, planned.string + 1) if s in strings and s not in taken]
    if not near:
        return None
    string = random.choice(near)
    return string, strings[string]


def _level(planned: Planned, faults: dict[str, float], random: Random) -> float:
    thumb = faults.get("thumb", 0.0) if planned.finger == "p" else 0.0
    accent = min(1, planned.accent) * faults.get("accent", _ACCENT_DB)
    one = faults.get("one", 0.0) if planned.finger == "p" and planned.at == 0 else 0.0
    return thumb + accent + one + random.gauss(0.0, _LEVEL_DB)


def rendered(played: list[Played], kind: Kind, faults: dict[str, float]) -> Floats:
    """Plucks as samples at RATE_HZ. One voice a string: a new pluck stops the old one."""
    detune, dead, cut_s = faults.get("detune", 0.0), faults.get("dead", 0.0), faults.get("cut", 0.0) / 1000.0
    end = (played[-1].t_s if played else 0.0) + _RING_S
    out = np.zeros(int(end * RATE_HZ) + 1, np.float32)
    known: dict[tuple[int, int, bool], Samples] = {}
    for index, each in enumerate(played):
        finger = "p" if each.string >= 4 else "i"
        key = (each.string, each.midi, finger == "p")
        if key not in known:
            note = SoundedNote(0.0, each.string, each.midi, 1.0, finger)
            known[key] = pluck(each.midi + detune / 100.0, timbre_of(kind, note), 4.0)
        begin = int(each.t_s * RATE_HZ)
        next_same = next((o.t_s for o in played[index + 1 :] if o.string == each.string), end)
        early = cut_s if next_same - each.t_s > 2.0 * cut_s else 0.0
        count = min(len(known[key]), int((next_same - early) * RATE_HZ) - begin + _STOP, len(out) - begin)
        if count > 0:
            part = known[key][:count] * np.float32(0.3 * 10.0 ** (each.gain_db / 20.0))
            if each.string == dead:
                part *= (10.0 ** (-_DEAD_DB_S / 20.0 * np.arange(count) / RATE_HZ)).astype(np.float32)
            fade = min(_STOP, count)
            part[count - fade :] *= np.linspace(1.0, 0.0, fade, dtype=np.float32)
            out[begin : begin + count] += part
    return out


def _recorded(sound: Floats, faults: dict[str, float], seed: int) -> Floats:
    """Room, noise and overload of the recording."""
    generator = np.random.default_rng(seed)
    out = sound / max(1e-6, float(np.abs(sound).max())) * np.float32(0.5)
    room = faults.get("room", 0.0)
    if room > 0:
        time = np.arange(int(min(2.0, room) * RATE_HZ)) / RATE_HZ
        tail = generator.standard_normal(len(time)) * 10.0 ** (-3.0 * time / room)
        tail[0] = 0.0
        tail *= 10.0 ** (_ROOM_DB / 20.0) / np.sqrt((tail**2).sum())
        wet = _convolved(out, tail.astype(np.float32))
        out = out + wet[: len(out)]
    if "noise" in faults:
        hiss = 10.0 ** (faults["noise"] / 20.0) * generator.standard_normal(len(out))
        out = out + hiss.astype(np.float32)
    if faults.get("clip", 0.0) > 0:
        out = out * np.float32(2.0 * 10.0 ** (faults["clip"] / 20.0))
    return np.asarray(np.clip(out, -1.0, 1.0), np.float32)


def _convolved(sound: Floats, tail: Floats) -> Floats:
    size = 1 << int(np.ceil(np.log2(len(sound) + len(tail))))
    made = np.fft.irfft(np.fft.rfft(sound, size) * np.fft.rfft(tail, size), size)
    return np.asarray(made, np.float32)
