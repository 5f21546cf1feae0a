"""A take heard against its plan: which planned plucks sounded when, on which string, and what else did."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable

import numpy as np

from gingham.core.errors import TakeError
from gingham.core.listening.aligning import reach_of
from gingham.core.listening.attack import Attacks
from gingham.core.listening.check import why_other
from gingham.core.listening.deciding import Seen, decide
from gingham.core.listening.extras import Extra, Free, find_extras
from gingham.core.listening.fewer import as_listened
from gingham.core.listening.heard import Heard, Hearing
from gingham.core.listening.lasting import lasting
from gingham.core.listening.loudness import set_levels
from gingham.core.listening.onsets import LATE_S
from gingham.core.listening.placing import SHORT, groups_of, place
from gingham.core.listening.plan import TakePlan
from gingham.core.listening.spectra import Floats, grid_for, magnitude_between
from gingham.core.listening.starting import Starts
from gingham.core.listening.strings import Shares, Strings, decompose, trust, weights_of
from gingham.core.listening.struck import Struck, find_struck, of_groups, rise, worth_of

_MATCHED, _FITS = 0.5, 0.4  # less is other music
_WHOLE, _WHOLE_FITS = 0.95, 0.35  # a take of nearly all moments need not fit so well
_LEVEL_S, _EARLY_S = 0.09, 0.004
_RANG_STEPS, _ONSET_STEPS = 20, 40
_ECHO_S = 0.11  # no string is plucked twice in so short a time
_STILL_S, _STILL, _BESIDE_S = 0.14, 0.6, 0.05
"""How near an onset must be to a moment without one: seconds, share of a step, seconds on another string."""


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
    listener = _Listener(*as_listened(samples, rate), plan, free=free, tick=tick)
    hearing = listener.hear()
    if not _is_piece(hearing, len(plan.moments)):
        raise why_other(listener.struck, listener.grid, plan)
    return hearing


def _is_piece(hearing: Hearing, moments: int) -> bool:
    """Whether enough of the plan was found, in order and at its pitches."""
    found = hearing.matched * len(hearing.reach) / max(1, moments)
    fits = _WHOLE_FITS if found > _WHOLE else _FITS
    return hearing.matched >= _MATCHED and hearing.fit >= fits and len(hearing.reach) >= min(SHORT, moments)


class _Listener:
    """One take against one plan."""

    def __init__(self, samples: Floats, rate: int, plan: TakePlan, *, free: bool, tick: Tick) -> None:
        self.samples, self.grid, self.plan, self.is_free = samples, grid_for(rate), plan, free
        self._tick = tick
        self.attacks = Attacks(samples, rate)
        self.struck: Struck = find_struck(samples, self.grid, plan)
        self.attacks.foresee(self.struck.times)
        self.worth = worth_of(self.struck, plan)
        self.moment_of = {i: k for k, moment in enumerate(plan.moments) for i in moment}
        self.sounding = [_sounding(plan, k) for k in range(len(plan.moments))]
        self.notes: list[Heard] = []
        self.missed: list[int] = []
        self.unclear: list[int] = []

    def _done(self, share: float) -> None:
        if not self._tick(share):
            raise TakeError("take-given-up")

    def hear(self) -> Hearing:
        """Match, learn, decide; then what is left over."""
        self._done(0.3)
        self._place()
        self._done(0.5)
        self._learn()
        self._done(0.6)
        self._decide()
        self._done(0.8)
        self._add_unplanned()
        self.notes.sort(key=lambda note: note.t_s)
        return self._hearing()

    def _decide(self) -> None:
        """What became of each planned pluck between the first moment that was struck and the last."""
        shares = decompose(self.strings, self.rises, self.before, self.sounding)
        self.usual = self._usual_weights(shares)
        earlier = [self.sounding[max(0, k - 1)] for k in range(len(self.sounding))]
        self.rang = weights_of(self.strings, self.before, np.ones_like(self.before), earlier, _RANG_STEPS)
        for k in self.reach:
            seen = Seen(self.plan, k, self.of[k] >= 0, self.sounding[k], shares[k], self.usual)
            decided = decide(seen)
            strings = [string for _, string, _ in decided.heard]
            self.notes += [self._heard(k, shares[k].row, strings, *each) for each in decided.heard]
            self.missed += decided.missed
            self.unclear += decided.unclear

    def _add_unplanned(self) -> None:
        """What else was struck; a planned pluck that was looked for in vain may be among it."""
        free = Free(
            self.samples, self.grid, self.struck, self.strings, self.attacks, self._free(), self._taken(),
            self.usual, self._sounding_near,
        )  # fmt: skip
        for found in find_extras(free, [(note.t_s, note.string) for note in self.notes]):
            level = self._level((found.string, found.midi), self.struck.after[found.candidate], found.row)
            t_s = self.attacks.at(float(self.struck.times[found.candidate])).t_s
            planned = self._not_yet_heard(found, t_s)
            if planned is None:
                planned = self._heard_late(found, t_s)
            if planned is not None:
                self.notes = [note for note in self.notes if note.planned != planned]
            elif self._may_be_unclear(found.string, t_s) or self._is_echo(found, t_s):
                continue
            self.notes.append(Heard(t_s, found.string, found.midi, level, planned, found.sure))

    def _hearing(self) -> Hearing:
        """All that was heard, with levels that can be compared and how long each pluck rang."""
        good = np.flatnonzero(self.of >= 0)
        speaks = (self.worth[self.of[good], good] + 1.0) / 3.2 if len(good) else np.zeros(1)
        expected = tuple(float(self.beat[self.moment_of[i]]) for i in range(len(self.plan.plucks)))
        return Hearing(
            set_levels(self.notes, self.samples, self.grid.rate, self._rings_on),
            tuple(self.missed),
            tuple(self.unclear),
            expected,
            self.reach,
            len(good) / max(1, len(self.reach)),
            float(np.clip(np.mean(speaks), 0.0, 1.0)),
            {s: t.cents for s, t in self.strings.tuned.items()},
            lasting(self.notes, self.plan, self.samples, self.grid, self.strings.partials_hz),
        )

    def _place(self) -> None:
        """Which onset is which moment, and what is louder at each than what rang on."""
        placed = place(self.struck, self.worth, self.plan, free=self.is_free)
        self.of, self.beat, self.expected = placed.of, placed.beat, placed.expected
        self.reach = reach_of(self.of)
        self.groups = groups_of(self.of, self.struck.times, self.plan)
        due_s = self.expected + LATE_S
        self.before, self.after = of_groups(self.struck, self.samples, self.grid, self.groups, due_s)
        self.rises = rise(self.before, self.after)

    def _not_yet_heard(self, found: Extra, t_s: float) -> int | None:
        """The planned pluck that an unplanned one is after all: one that was missed, unclear, or guessed.

        It is looked for in the part that was played and the moment at each end of it. The string beside one
        without an onset is a wrong one.
        """
        times, able = self.plan.times, list[tuple[float, int]]()
        near = np.flatnonzero(np.abs(self.expected - t_s) < _STILL_S).tolist()
        for k in (k for k in near if self.reach.start - 1 <= k <= self.reach.stop):
            gaps = [abs(times[k] - times[other]) for other in (k - 1, k + 1) if 0 <= other < len(times)]
            near_s = min(_STILL_S, _STILL * min(gaps, default=1.0))
            away = abs(t_s - float(self.expected[k]))
            for i in self.plan.moments[k]:
                pluck = self.plan.plucks[i]
                open_ = i in self.missed or i in self.unclear
                same = (pluck.string, pluck.midi) == (found.string, found.midi) and (open_ or self.of[k] < 0)
                lone = self.of[k] < 0 and len(self.plan.moments[k]) == 1
                beside = lone and (open_ or k not in self.reach) and abs(pluck.string - found.string) == 1
                if (same and away < near_s) or (beside and away < _BESIDE_S):
                    able.append((away, i))
        if not able:
            return None
        planned = min(able)[1]
        self._reach_to(self.moment_of[planned])
        for without in (self.missed, self.unclear):
            if planned in without:
                without.remove(planned)
        return planned

    def _heard_late(self, found: Extra, t_s: float) -> int | None:
        """The planned pluck that was taken for a swelling of its string, after it had been struck."""
        flux = self.struck.flux
        for note in self.notes:
            if note.planned is not None and (note.string, note.midi) == (found.string, found.midi):
                group = self.groups[self.moment_of[note.planned]]
                fainter = max(flux[group], default=0.0) < flux[found.candidate]
                if fainter and 0.0 < note.t_s - t_s < _ECHO_S:
                    return note.planned
        return None

    def _reach_to(self, moment: int) -> None:
        """The part that was played goes as far as a moment; what else is planned there is unclear."""
        if moment not in self.reach:
            self.reach = range(min(self.reach.start, moment), max(self.reach.stop, moment + 1))
            self.unclear += self.plan.moments[moment]

    def _is_echo(self, found: Extra, t_s: float) -> bool:
        """Whether a planned pluck of the same string swells or rattles: no finger is back on it so soon."""
        return any(
            note.planned is not None
            and (note.string, note.midi) == (found.string, found.midi)
            and 0.0 <= t_s - note.t_s < _ECHO_S
            for note in self.notes
        )

    def _may_be_unclear(self, string: int, t_s: float) -> bool:
        """Whether a planned pluck of that string is looked for near by: then one of both is the other."""
        return any(
            self.plan.plucks[i].string == string
            and abs(float(self.expected[self.moment_of[i]]) - t_s) < _STILL_S
            for i in self.unclear
        )

    def _taken(self) -> frozenset[int]:
        """Candidates that belong to a planned moment."""
        return frozenset(j for group in self.groups for j in group)

    def _free(self) -> list[int]:
        taken = self._taken()
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
        self.starts = Starts(self.attacks, self.strings.partials_hz)

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

    # One pluck.

    def _heard(
        self, moment: int, row: Floats, strings: list[int], pluck: int, string: int, sure: float
    ) -> Heard:
        """A pluck that was heard: when, and how loud; `strings` are all that were heard at that moment."""
        group, note = self.groups[moment], (string, self.sounding[moment][string])
        t_s = float(self.expected[moment])
        if group:
            near_s = float(self.struck.times[self._onset(moment, note, group)])
            here, before = self.sounding[moment], self.sounding[max(0, moment - 1)]
            own = frozenset((s, here[s]) for s in (strings if len(group) == 1 else [string]))
            others = frozenset(here.items()) | frozenset(before.items())
            t_s = self.starts.at(near_s, t_s, own, others - own)
        level_db = self._level(note, self._alone(moment, string), row)
        return Heard(t_s, string, note[1], level_db, pluck, sure)

    def _onset(self, moment: int, note: tuple[int, int], group: list[int]) -> int:
        """Which of a moment's onsets is this string's: the one at which it rises most."""
        if len(group) == 1:
            return group[0]
        rises = self.struck.rises[group]
        believed = trust(rises, self.struck.before[group])
        there = weights_of(self.strings, rises, believed, [self.sounding[moment]] * len(group), _ONSET_STEPS)
        return group[int(there[:, self.strings.index[note]].argmax())]

    def _alone(self, moment: int, string: int) -> Floats:
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
        row = self.rang[moment]
        made = row @ self.strings.atoms + np.float32(1e-9)
        return np.asarray(1.0 - row[index] * self.strings.atoms[index] / made, np.float32)

    def _level(self, note: tuple[int, int], after: Floats, row: Floats) -> float:
        """The level of one string in a spectrum, in dB."""
        own = row[self.strings.index[note]] * self.strings.atoms[self.strings.index[note]]
        made = row @ self.strings.atoms + 1e-9
        inside = own > 0.02 * own.max() if own.max() > 0 else np.zeros(len(own), bool)
        part = after * np.minimum(1.0, own / made)
        return float(10 * np.log10((part[inside] ** 2).sum() + 1e-14))


def _sounding(plan: TakePlan, moment: int) -> dict[int, int]:
    """The strings that can sound at a moment; of equal pitches only those that are planned."""
    out = plan.strings_at(moment)
    planned = {plan.plucks[i].string for i in plan.moments[moment]}
    pitches = {out[string] for string in planned}
    return {s: midi for s, midi in out.items() if s in planned or midi not in pitches}
