"""How well takes are heard: simulated ones over all built-in patterns, in one run with a simple reference.

Run `python -m benchmarks.listening [takes]`. Every take has another pattern, instrument, tuning or capo,
tempo and setting (dry, room, hard: noise, overload; beside: taps, squeaks) and faults of every kind.
The reference takes the same onsets and gives each planned pluck the nearest one. F with 5 to 95 % intervals
(takes drawn anew).
"""

from __future__ import annotations

import sys
import time
from random import Random

import numpy as np

from gingham.core.errors import GinghamError
from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import instrument
from gingham.core.listening.heard import Heard, Hearing
from gingham.core.listening.hearing import hear
from gingham.core.listening.onsets import find_onsets
from gingham.core.listening.plan import TakePlan, plan_of
from gingham.core.listening.simulate import Take, simulate
from gingham.core.patterns.library import builtin
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.piece import NamedPattern, Piece, Section

_LINES = {
    "guitar": ("| G | Am7 | D | Em7 |", "| C | G/B | Am7 | F |", "| Em | C | G | D/F# |"),
    "ukulele": ("| C | Am | F | G7 |", "| G | D | Em | C |"),
}
_SETTINGS: dict[str, dict[str, float]] = {
    "dry": {"noise": -70.0},
    "room": {"room": 0.5, "noise": -55.0},
    "hard": {"room": 0.6, "noise": -42.0, "clip": 4.0},
    "beside": {"room": 0.3, "noise": -55.0, "tap": -18.0, "squeak": -24.0},
}
_LATE_S = 0.005
Counts = dict[str, tuple[int, int, int]]
"""For each question: right, given, true."""


def takes(count: int) -> list[tuple[str, Piece, TakePlan, Take]]:
    """So many takes, each drawn with its number as the seed."""
    out = []
    patterns = builtin()
    for number in range(count):
        random = Random(number)
        name, pattern = patterns[number % len(patterns)]
        kind = "ukulele" if random.random() < 0.3 else "guitar"
        tuning = "D2 A2 D3 G3 B3 E4" if kind == "guitar" and random.random() < 0.2 else None
        line = parse_chord_line(random.choice(_LINES[kind]).removesuffix("|") * 2 + "|", pattern.meter)
        tempo = random.randrange(50, 120)
        section = Section("A", line, name)
        try:
            piece = Piece(
                name, (section,), (NamedPattern(name, pattern),), instrument(kind, tuning),
                random.choice((0, 0, 2, 4)), meter=pattern.meter, tempo=tempo,
            )  # fmt: skip
            plan = plan_of([(fit(piece, 0), 1)])
        except GinghamError:
            continue
        setting = tuple(_SETTINGS)[number // 4 % len(_SETTINGS)]
        faults = {
            "jitter": random.choice((0.0, 6.0, 12.0)),
            "gallop": random.choice((0.0, 30.0)),
            "detune": random.choice((0.0, 15.0, -12.0)),
        }
        if number % 4:
            faults |= {"missed": 2.0, "wrong": 2.0, "extra": 3.0, "hesitate": random.choice((0.0, 180.0))}
        out.append(
            (setting, piece, plan, simulate(piece, plan, {**faults, **_SETTINGS[setting]}, seed=number))
        )
    return out


def scored(take: Take, hearing: Hearing, plan: TakePlan) -> tuple[Counts, list[float]]:
    """What a hearing got right, and its timing errors in milliseconds."""
    counts: Counts = {}
    for within in (0.025, 0.010):
        free, right = list(hearing.notes), 0
        for played in take.played:
            near = [n for n in free if n.string == played.string and abs(n.t_s - played.t_s) <= within]
            if near:
                free.remove(min(near, key=lambda n: abs(n.t_s - played.t_s)))
                right += 1
        counts[f"note ±{1000 * within:.0f} ms"] = (right, len(hearing.notes), len(take.played))
    unclear = set(hearing.unclear)
    wrong = {(p.planned, p.string) for p in take.played if p.kind == "wrong" and p.planned not in unclear}
    given = {
        (n.planned, n.string)
        for n in hearing.notes
        if n.planned is not None and n.string != plan.plucks[n.planned].string
    }
    counts["wrong string"] = (len(wrong & given), len(given), len(wrong))
    missed = set(take.missed) - unclear
    counts["missed"] = (len(missed & set(hearing.missed)), len(hearing.missed), len(missed))
    extra = [p for p in take.played if p.kind == "extra"]
    more = [n for n in hearing.notes if n.planned is None]
    hits = sum(any(abs(n.t_s - p.t_s) < 0.05 and n.string == p.string for n in more) for p in extra)
    counts["extra"] = (hits, len(more), len(extra))
    truth = {p.planned: p.t_s for p in take.played if p.planned is not None}
    return counts, [1000 * (n.t_s - truth[n.planned]) for n in hearing.notes if n.planned in truth]


def reference(take: Take, plan: TakePlan) -> Hearing:
    """The nearest onset for every planned pluck, once the whole has been shifted to suit best."""
    onsets = find_onsets(take.samples, take.rate).times - _LATE_S
    score = np.array([p.t_s for p in plan.plucks])

    def away(shift: float) -> float:
        return float(np.minimum(0.1, np.abs(onsets[None, :] - score[:, None] - shift).min(1)).sum())

    shift = min((float(t) for t in onsets[: max(8, len(onsets) // 3)]), key=away)
    nearest = onsets[np.abs(onsets[None, :] - score[:, None] - shift).argmin(1)]
    notes = [
        Heard(float(t), p.string, p.midi, 0.0, i, 1.0)
        for i, (t, p) in enumerate(zip(nearest, plan.plucks, strict=True))
    ]
    return Hearing(tuple(notes), (), (), (), range(0), 1.0, 1.0, {})


def f_score(counts: list[tuple[int, int, int]]) -> float:
    """2 right / (given + true)."""
    right, given, true = (sum(column) for column in zip(*counts, strict=True))
    return 2 * right / max(1, given + true)


def shown(name: str, rows: list[tuple[Counts, list[float]]]) -> str:
    """One line of the table."""
    parts = []
    for question in rows[0][0]:
        counts = [row[0][question] for row in rows]
        draws = np.random.default_rng(0).integers(len(counts), size=(300, len(counts)))
        low, high = np.percentile([f_score([counts[i] for i in draw]) for draw in draws], [5, 95])
        parts.append(f"{question} {f_score(counts):.3f} ({low:.2f} to {high:.2f})")
    errors = np.concatenate([np.asarray(row[1]) for row in rows])
    away = np.abs(errors - np.median(errors))
    return f"{name:10} {'  '.join(parts)}  timing {np.median(away):.2f} / {np.percentile(away, 90):.1f} ms"


def main() -> None:
    """Print the tables, the share of unclear plucks, false alarms, and how fast it is."""
    made = takes(int(sys.argv[1]) if len(sys.argv) > 1 else 60)
    rows: dict[str, list[tuple[Counts, list[float]]]] = {}
    plain: list[tuple[Counts, list[float]]] = []
    spent, audio, unclear, planned, alarms, faultless, refused = 0.0, 0.0, 0, 0, 0, 0, 0
    for setting, _piece, plan, take in made:
        began = time.perf_counter()
        try:
            hearing = hear(take.samples, take.rate, plan)
        except GinghamError:
            refused += 1
            continue
        spent += time.perf_counter() - began
        audio += len(take.samples) / take.rate
        row = scored(take, hearing, plan)
        rows.setdefault(setting, []).append(row)
        plain.append(scored(take, reference(take, plan), plan))
        unclear, planned = unclear + len(hearing.unclear), planned + len(plan.plucks)
        if not any(p.kind != "ok" for p in take.played) and not take.missed:
            faultless += 1
            alarms += sum(row[0][q][1] for q in ("wrong string", "missed", "extra"))
    for setting, found in rows.items():
        print(shown(f"{setting} ({len(found)})", found))
    print(shown("all", [row for found in rows.values() for row in found]))
    print(shown("reference", plain))
    share, speed = 100 * unclear / max(1, planned), audio / max(spent, 1e-9)
    print(f"unclear {share:.1f} %; {alarms} false alarms on {faultless} faultless takes")
    print(f"{refused} refused; {speed:.0f} times real time")


if __name__ == "__main__":
    main()
