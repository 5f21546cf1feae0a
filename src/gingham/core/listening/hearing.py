"""A take heard against its plan: which planned plucks sounded when, on which string, and what else did."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.errors import TakeError
from gingham.core.listening.aligning import expected_times, interpolated, match
from gingham.core.listening.attack import Attacks
from gingham.core.listening.check import why_other
from gingham.core.listening.extras import Extra, Free, find_extras
from gingham.core.listening.heard import Heard, Hearing
from gingham.core.listening.lasting import lasting
from gingham.core.listening.loudness import set_levels
from gingham.core.listening.plan import SOFT, SWEPT, TakePlan
from gingham.core.listening.spectra import Floats, grid_for, magnitude_between
from gingham.core.listening.strings import Shares, Strings, decompose
from gingham.core.listening.struck import Struck, around, find_struck, rise, worth_of

_TOGETHER_S = 0.075  # plucks of one moment may lie so far apart
_LATE_S = 0.005  # how far a candidate of the flux usually lies after the start
_TEMPOS = (0.88, 1.13, 0.78, 1.28, 0.69, 1.45, 0.6, 0.5, 1.7)
"""The player's beat in planned beats, where the planned one does not fit."""
_MATCHED, _FITS, _SHORT = 0.5, 0.4, 8  # less is other music
_LEVEL_S, _EARLY_S = 0.09, 0.004
_RANG_STEPS = 20
_FAINT_DB = 8.0
_SIGN = 0.12  # of a string's usual weight: of 322 strings that were left out 320 have less
_STILL_S, _STILL, _BESIDE_S = 0.14, 0.5, 0.05
"""How near an onset must be to a moment without one: seconds, share of a step, seconds on another string."""
_PLAIN = 0.3  # worth of a match a moment that needs no other tempo to be tried


Tick = Callable[[float], bool]
"""Told the share that is done, 0 to 1; False gives the work up."""


def hear(
    samples: Floats, rate: int, plan: TakePlan, *, free: bool = False, tick: Tick = lambda _share: True
) -> Hearing:
    """Hear a take (mono samples at `rate` Hz) against a plan with at least one pluck.

    A `free` take has no tempo: only order and strings count. `tick` is told the share that is done.

    Raises
    ------
    TakeError
        If it is other music, or the same in another tuning; `take-given-up` if `tick` says so.
    """
    listener = _Listener(samples, rate, plan, free=free, tick=tick)
    hearing = listener.hear()
    if (
        hearing.matched < _MATCHED
        or hearing.fit < _FITS
        or len(hearing.reach) < min(_SHORT, len(plan.moments))
    ):
        raise why_other(listener.struck, listener.grid, plan)
    return hearing


class _Listener:
    """One take against one plan."""

    def __init__(self, samples: Floats, rate: int, plan: TakePlan, *, free: bool, tick: Tick) -> None:
        self.samples, self.grid, self.plan, self.is_free = samples, grid_for(rate), plan, free
        self._tick = tick
        self.attacks = Attacks(samples, rate)
        self.struck: Struck = find_struck(samples, self.grid, plan)
        self.worth = worth_of(self.struck, plan)
        self.moment_of = {i: k for k, moment in enumerate(plan.moments) for i in moment}
        self.sounding = [_sounding(plan, k) for k in range(len(plan.moments))]

    def _done(self, share: float) -> None:
        if not self._tick(share):
            raise TakeError("take-given-up")

    def hear(self) -> Hearing:
        """Match, learn, decide; then what is left over."""
        self._done(0.3)
        self._match()
        self._group()
        self._done(0.5)
        self._learn()
        self._done(0.6)
        shares = decompose(self.strings, self.rises, self.before, self.sounding)
        self.usual = self._usual_weights(shares)
        earlier = [self.sounding[max(0, k - 1)] for k in range(len(self.sounding))]
        self.rang = decompose(self.strings, self.before, np.zeros_like(self.before), earlier, _RANG_STEPS)
        notes: list[Heard] = []
        missed: list[int] = []
        unclear: list[int] = []
        good = np.flatnonzero(self.of >= 0)
        reach = range(int(good[0]), int(good[-1]) + 1) if len(good) else range(0)
        for k in reach:
            _Decision(self, k, shares[k], notes, missed, unclear).decide()
        self._done(0.8)
        free = Free(
            self.samples, self.grid, self.struck, self.strings, self.attacks, self._free(), self.taken(),
            self.usual, self._sounding_near,
        )  # fmt: skip
        for found in find_extras(free, [(note.t_s, note.string) for note in notes]):
            level = self._level((found.string, found.midi), self.struck.after[found.candidate], found.row)
            t_s = self.attacks.at(float(self.struck.times[found.candidate])).t_s
            planned = self._not_yet_heard(found, t_s, reach, notes, missed, unclear)
            if planned is None and self._may_be_unclear(found.string, t_s, unclear):
                continue
            notes.append(Heard(t_s, found.string, found.midi, level, planned, found.sure))
        notes.sort(key=lambda note: note.t_s)
        speaks = (self.worth[self.of[good], good] + 1.0) / 3.2 if len(good) else np.zeros(1)
        expected = tuple(float(self.beat[self.moment_of[i]]) for i in range(len(self.plan.plucks)))
        rang = lasting(notes, self.plan, self.samples, self.grid, self.strings.partials_hz)
        levelled = set_levels(notes, self.samples, self.grid.rate, self._rings_on)
        return Hearing(
            levelled, tuple(missed), tuple(unclear), expected, reach,
            len(good) / max(1, len(reach)), float(np.clip(np.mean(speaks), 0.0, 1.0)),
            {s: t.cents for s, t in self.strings.tuned.items()}, rang,
        )  # fmt: skip

    def _not_yet_heard(
        self,
        found: Extra,
        t_s: float,
        reach: range,
        notes: list[Heard],
        missed: list[int],
        unclear: list[int],
    ) -> int | None:
        """The planned pluck that an unplanned one is after all: one of a moment that no onset was found for.

        It may have been missed, unclear, or guessed at its time; the string beside it is a wrong one.
        """
        times, able = self.plan.times, list[tuple[float, int]]()
        for k in (k for k in reach if self.of[k] < 0):
            gaps = [abs(times[k] - times[other]) for other in (k - 1, k + 1) if 0 <= other < len(times)]
            near_s = min(_STILL_S, _STILL * min(gaps, default=1.0))
            away = abs(t_s - float(self.expected[k]))
            for i in self.plan.moments[k]:
                pluck = self.plan.plucks[i]
                same = (pluck.string, pluck.midi) == (found.string, found.midi)
                lone = len(self.plan.moments[k]) == 1 and (i in missed or i in unclear)
                beside = lone and abs(pluck.string - found.string) == 1
                if (same and away < near_s) or (beside and away < _BESIDE_S):
                    able.append((away, i))
        if not able:
            return None
        planned = min(able)[1]
        for without in (missed, unclear):
            if planned in without:
                without.remove(planned)
        notes[:] = [note for note in notes if note.planned != planned]
        return planned

    def _may_be_unclear(self, string: int, t_s: float, unclear: list[int]) -> bool:
        """Whether a planned pluck of that string is looked for near by: then one of both is the other."""
        return any(
            self.plan.plucks[i].string == string
            and abs(float(self.expected[self.moment_of[i]]) - t_s) < _STILL_S
            for i in unclear
        )

    # Which onset is which moment.

    def _match(self) -> None:
        plan, times = self.plan, self.struck.times
        score = np.asarray(plan.times)
        changes = np.array([plan.changes(k) for k in range(len(score))])
        if self.is_free:
            self.of = match(times, self.worth, score, changes, free=True).of
            self.expected = self.beat = interpolated(times, self.of).beat - _LATE_S
            return
        found, tempo = match(times, self.worth, score, changes), 1.0
        if found.inside < _PLAIN or len(found.reach) < _SHORT:
            for other in _TEMPOS:
                tried = match(times, self.worth, score * other, changes)
                if tried.worth > found.worth + 0.1 * len(score):
                    found, tempo = tried, other
        slope = _slope(score * tempo, times, found.of)
        if abs(np.log(slope)) > 0.04:
            tried = match(times, self.worth, score * tempo * slope, changes)
            if tried.worth > found.worth:
                found, tempo = tried, tempo * slope
        scaled = msgspec.structs.replace(plan, times=tuple(score * tempo))
        expected = expected_times(scaled, times, found.of).played
        self.of = match(times, self.worth, expected, changes, near=found.of).of
        self.expected = expected_times(scaled, times, self.of).played
        self._fill()
        self._sharpen()
        last = expected_times(scaled, times, self.of)
        self.expected, self.beat = last.played - _LATE_S, last.beat - _LATE_S

    def _fill(self) -> None:
        """A moment without an onset takes a free one near by that suits it, or any pitched one very near."""
        times, struck = self.struck.times, self.struck
        used = {int(j) for j in self.of if j >= 0}
        known = sorted(used)
        if not known:
            return
        tonal, flux = np.median(struck.tonal[known]), np.median(struck.flux[known])
        for k in np.flatnonzero(self.of < 0):
            low = times[self.of[k - 1]] + 0.03 if k and self.of[k - 1] >= 0 else self.expected[k] - 0.2
            last = k + 1 == len(self.of)
            high = (
                times[self.of[k + 1]] - 0.03 if not last and self.of[k + 1] >= 0 else self.expected[k] + 0.25
            )
            away = np.abs(times - self.expected[k])
            suits = (self.worth[:, k] > 0.9) & (away < (0.3 if last or not k else 0.12))
            near = (struck.tonal > 0.35 * tonal) & (struck.flux > 0.2 * flux) & (away < 0.06)
            able = [
                int(j)
                for j in np.flatnonzero((suits | near) & (times > low) & (times < high))
                if j not in used
            ]
            if able:
                best = max(able, key=lambda j: float(self.worth[j, k] - away[j] / 0.1))
                self.of[k] = best
                used.add(best)

    def _sharpen(self) -> None:
        """A moment belongs to the onset that is struck, not to a swelling just after it."""
        times, flux = self.struck.times, self.struck.flux
        used = {int(j) for j in self.of if j >= 0}
        for k in np.flatnonzero(self.of >= 0):
            j = int(self.of[k])
            near = np.flatnonzero((times > times[j] - _TOGETHER_S) & (times < times[j]))
            able = [int(i) for i in near if int(i) not in used and flux[i] > 1.5 * flux[j]]
            if able:
                best = max(able, key=lambda i: float(flux[i]))
                if self.worth[best, k] > self.worth[j, k] - 0.9:
                    used.discard(j)
                    used.add(best)
                    self.of[k] = best

    def _group(self) -> None:
        """The onsets of each moment: one, or several where plucks of a pinch come apart."""
        times, used = self.struck.times, {int(j) for j in self.of if j >= 0}
        self.groups: list[list[int]] = []
        for k, j in enumerate(map(int, self.of)):
            group = [j] if j >= 0 else []
            if j >= 0 and len(self.plan.moments[k]) > 1:
                near = np.flatnonzero(np.abs(times - times[j]) < _TOGETHER_S)
                group += [int(i) for i in near if int(i) not in used]
            self.groups.append(sorted(group))
        first = [times[g[0]] if g else self.expected[k] + _LATE_S for k, g in enumerate(self.groups)]
        last = [times[g[-1]] if g else self.expected[k] + _LATE_S for k, g in enumerate(self.groups)]
        self.before, self.after = around(self.samples, self.grid, np.asarray(first), np.asarray(last))
        self.rises = rise(self.before, self.after)

    def taken(self) -> frozenset[int]:
        """Candidates that belong to a planned moment."""
        return frozenset(j for group in self.groups for j in group)

    def _free(self) -> list[int]:
        taken = self.taken()
        return [j for j in range(len(self.struck.times)) if j not in taken]

    def _sounding_near(self, t_s: float) -> dict[int, int]:
        """The chord's strings at a time of the file."""
        k = max(0, bisect_right(self.expected.tolist(), t_s + 0.02) - 1)
        return dict(self.plan.held[self.plan.over[k]].pitches)

    # What the strings are like.

    def _learn(self) -> None:
        plan = self.plan
        notes = [note for each in plan.held for note in each.pitches]
        notes += [(p.string, p.midi) for p in plan.plucks]
        self.strings = Strings(self.grid, notes)
        examples: dict[tuple[int, int], list[int]] = {}
        for k, moment in enumerate(plan.moments):
            if len(moment) == 1 and self.of[k] >= 0:
                pluck = plan.plucks[moment[0]]
                examples.setdefault((pluck.string, pluck.midi), []).append(k)
        self.strings.learn(self.rises, examples)

    def _usual_weights(self, shares: list[Shares]) -> dict[int, float]:
        """The usual weight of a pluck on each string; 0 stands for all strings."""
        found: dict[int, list[float]] = {0: []}
        for k, moment in enumerate(self.plan.moments):
            for i in moment:
                string = self.plan.plucks[i].string
                if self.of[k] >= 0 and shares[k].share[string] > 0.25:
                    found.setdefault(string, []).append(shares[k].weight[string])
                    found[0].append(shares[k].weight[string])
        return {string: float(np.median(values)) for string, values in found.items() if values}

    def relative(self, shares: Shares, string: int) -> float:
        """A string's weight in its usual weights."""
        return shares.weight[string] / (self.usual.get(string, self.usual.get(0, 1.0)) + 1e-12)

    def alone(self, moment: int, string: int) -> Floats:
        """The spectrum of what was struck at a moment: its first 90 ms without other strings' ring."""
        group = self.groups[moment]
        if not group:
            return np.asarray(self.after[moment], np.float32)
        begin = float(self.struck.times[group[-1]]) - _EARLY_S
        later = next((self.struck.times[j] for j in self.of[moment + 1 :] if j >= 0), np.inf)
        end = min(begin + _LEVEL_S, float(later) - _EARLY_S)
        sound = magnitude_between(self.samples, self.grid, begin, max(end, begin + 0.03))
        quieter = np.square(sound) - np.square(
            np.float32(0.8) * self.before[moment] * self._others(moment, string)
        )
        return np.asarray(np.sqrt(np.maximum(quieter, np.float32(0))), np.float32)

    def _rings_on(self, note: Heard) -> float:
        """The share of the power before a pluck that rings on: all but that of its own string."""
        if note.planned is None:
            return 1.0
        moment = self.moment_of[note.planned]
        before = self.before[moment]
        power = float(np.square(before).sum())
        return float(np.square(before * self._others(moment, note.string)).sum()) / max(power, 1e-12)

    def _others(self, moment: int, string: int) -> Floats:
        """The part of what rang before that is not this string's: a pluck ends its own string's ring."""
        midi = self.sounding[max(0, moment - 1)].get(string)
        index = self.strings.index.get((string, midi)) if midi is not None else None
        if index is None:
            return np.ones(self.grid.bins, np.float32)
        row = self.rang[moment].row
        made = row @ self.strings.atoms + np.float32(1e-9)
        return np.asarray(1.0 - row[index] * self.strings.atoms[index] / made, np.float32)

    def _level(self, note: tuple[int, int], after: Floats, row: Floats) -> float:
        """The level of one string in a spectrum, in dB."""
        own = row[self.strings.index[note]] * self.strings.atoms[self.strings.index[note]]
        made = row @ self.strings.atoms + 1e-9
        inside = own > 0.02 * own.max() if own.max() > 0 else np.zeros(len(own), bool)
        part = after * np.minimum(1.0, own / made)
        return float(10 * np.log10((part[inside] ** 2).sum() + 1e-14))


def _slope(score: NDArray[np.float64], times: NDArray[np.float64], of: NDArray[np.int64]) -> float:
    """How long the player's beat is in planned ones: the median over steps of some moments."""
    known = np.flatnonzero(of >= 0)
    if len(known) < 9:
        return 1.0
    apart = score[known[8:]] - score[known[:-8]]
    return float(np.clip(np.median((times[of[known[8:]]] - times[of[known[:-8]]]) / apart), 0.4, 2.5))


def _sounding(plan: TakePlan, moment: int) -> dict[int, int]:
    """The strings that can sound at a moment; of equal pitches only those that are planned."""
    out = plan.strings_at(moment)
    planned = {plan.plucks[i].string for i in plan.moments[moment]}
    pitches = {out[string] for string in planned}
    return {s: midi for s, midi in out.items() if s in planned or midi not in pitches}


class _Decision:
    """What became of the plucks of one moment."""

    def __init__(
        self, of: _Listener, moment: int, shares: Shares, notes: list[Heard], missed: list[int],
        unclear: list[int],
    ) -> None:  # fmt: skip
        self.of, self.k, self.shares = of, moment, shares
        self.notes, self.missed, self.unclear = notes, missed, unclear
        self.planned = of.plan.moments[moment]
        self.matched = of.of[moment] >= 0
        self.own = {of.plan.plucks[i].string for i in self.planned}
        self.free = [string for string in shares.share if string not in self.own]

    def decide(self) -> None:
        """Heard, another string instead, unclear, or missed."""
        absent = []
        for i in self.planned:
            string = self.of.plan.plucks[i].string
            if not self._sounds(string):
                absent.append(i)
            elif self._outshone(string):
                self.unclear.append(i)
            else:
                self._add(i, string, self._sure(string))
        for i in absent:
            instead = self._instead(self.of.plan.plucks[i].string)
            if instead is not None and self._absent(self.of.plan.plucks[i].string):
                self.free.remove(instead)
                self._add(i, instead, self._sure(instead))
            elif instead is not None or self._is_unclear(i):
                self.unclear.append(i)
            else:
                self.missed.append(i)

    def _sounds(self, string: int) -> bool:
        share, evidence = self.shares.share[string], self.shares.evidence[string]
        relative = self.of.relative(self.shares, string)
        if not self.matched:
            return relative > 0.25 and share > 0.3 and evidence > 0.1
        return (
            (share > 0.15 and relative > 0.12 and evidence > 0.02)
            or (relative > 0.3 and share > 0.1 and evidence > 0.015)
            or (share > 0.5 and relative > 0.1)
        )

    def _is_unclear(self, pluck: int) -> bool:
        """A weak sign beside a louder pluck; and notes of the fretting hand, which begin softly."""
        planned = self.of.plan.plucks[pluck]
        if planned.kind in SOFT:
            return True
        if planned.kind in SWEPT and self.matched:
            return True  # one string of a brush cannot be told from the next
        share, evidence = self.shares.share[planned.string], self.shares.evidence[planned.string]
        if self.of.relative(self.shares, planned.string) > _SIGN:
            return True  # too weak to be called heard, but a string that is not plucked is stiller
        if not self.matched:
            return (share > 0.6 and evidence > 0.25) or self._other(0.8, 0.2, 0.5)
        return len(self.planned) > 1 and self._other(0.0, 0.05, 0.16)

    def _other(self, share: float, evidence: float, relative: float) -> bool:
        """Whether a string that was not planned may be the one that was struck."""
        return any(
            self.shares.share[string] >= share
            and self.shares.evidence[string] >= evidence
            and self.of.relative(self.shares, string) >= relative
            for string in self.free
        )

    def _outshone(self, string: int) -> bool:
        """Whether a string that was not planned is so much louder that the planned one may be its shadow."""
        return self._other(max(0.4, 1.5 * self.shares.share[string]), 1.0, 0.8)

    def _absent(self, string: int) -> bool:
        """Whether the planned string is so still that another one was struck in its place."""
        return self.shares.share[string] < 0.05 or self.of.relative(self.shares, string) < 0.07

    def _instead(self, string: int) -> int | None:
        """The neighbour that sounds in place of a string that does not."""
        if not self.matched or not self.free:
            return None
        evidence = self.shares.evidence
        best = max(self.free, key=lambda s: evidence[s] if abs(s - string) == 1 else 0.3 * evidence[s])
        clear = (
            self.shares.share[best] > 0.2
            and evidence[best] > 0.15
            and self.of.relative(self.shares, best) > 0.2
        )
        apart = self.of.sounding[self.k][best] - self.of.sounding[self.k][string]
        near = abs(best - string) == 1 or (abs(best - string) == 2 and evidence[best] > 0.6 and apart % 12)
        return best if clear and near else None

    def _sure(self, string: int) -> float:
        share, evidence = self.shares.share[string], self.shares.evidence[string]
        return round(float(min(1.0, 0.3 + share + 0.5 * min(1.0, evidence))), 2)

    def _add(self, pluck: int, string: int, sure: float) -> None:
        of, group = self.of, self.of.groups[self.k]
        note = (string, of.sounding[self.k][string])
        t_s = float(of.expected[self.k])
        if group:
            near_s = float(of.struck.times[self._onset(note, group)])
            attack = of.attacks.at(near_s)
            faint = (
                attack.rise_db < _FAINT_DB
            )  # what the noise leaves of it may be anywhere: two of three agree
            t_s = sorted((attack.t_s, near_s - _LATE_S, t_s))[1] if faint else attack.t_s
        level = of._level(note, of.alone(self.k, string), self.shares.row)
        self.notes.append(Heard(t_s, string, note[1], level, pluck, sure))

    def _onset(self, note: tuple[int, int], group: list[int]) -> int:
        """Which of a moment's onsets is this string's: the one at which it rises most."""
        if len(group) == 1:
            return group[0]
        of = self.of
        there = decompose(
            of.strings,
            of.struck.rises[group],
            of.struck.before[group],
            [of.sounding[self.k]] * len(group),
            40,
        )
        return group[max(range(len(group)), key=lambda i: there[i].weight[note[0]])]
