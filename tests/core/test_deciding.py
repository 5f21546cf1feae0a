"""What is said of planned plucks, for spectra whose strings are given: heard, instead, unclear or missed."""

from __future__ import annotations

import numpy as np
import pytest

from gingham.core.fitting.fit import fit
from gingham.core.listening import extras, placing
from gingham.core.listening.aligning import _around, match, running_beat
from gingham.core.listening.deciding import Seen, decide
from gingham.core.listening.placing import groups_of, place
from gingham.core.listening.plan import plan_of
from gingham.core.listening.strings import Shares
from gingham.core.listening.struck import Struck
from tests.conftest import make_piece

USUAL = dict.fromkeys(range(7), 1.0)


def _seen(pattern: str, strings: dict[int, tuple[float, float, float]], struck: bool = True) -> Seen:
    """The first moment of a pattern on G; weight, share and evidence of strings, the others are still."""
    plan = plan_of([(fit(make_piece("| G{320003} |", pattern)), 1)])
    sounding = plan.strings_at(0)
    weight, share, evidence = (
        {string: strings.get(string, (0.0, 0.0, 0.0))[which] for string in sounding} for which in range(3)
    )
    shares = Shares(weight, share, evidence, 0.0, np.zeros(1, np.float32))
    return Seen(plan, 0, struck, sounding, shares, USUAL)


@pytest.mark.parametrize(
    ("strings", "struck", "heard", "missed", "unclear"),
    [
        ({6: (1.0, 0.9, 1.0)}, True, [(0, 6)], [], []),
        ({6: (0.13, 0.14, 0.01), 3: (0.1, 0.5, 0.1)}, True, [], [], [0]),  # a sign of it
        ({6: (0.11, 0.14, 0.01), 3: (0.1, 0.5, 0.1)}, True, [], [0], []),  # less than a sign
        ({5: (0.8, 0.9, 0.9)}, True, [(0, 5)], [], []),  # the neighbour in its place
        ({5: (0.8, 0.6, 0.9), 6: (0.1, 0.12, 0.01)}, True, [], [], [0]),  # beside something of its own
        ({3: (0.9, 0.9, 0.9)}, True, [], [0], []),  # too far away to be a slip
        ({5: (0.17, 0.1, 0.06)}, True, [], [], [0]),  # the neighbour, perhaps
        ({5: (0.15, 0.1, 0.06)}, True, [], [0], []),
        ({4: (0.17, 0.1, 0.06)}, True, [], [0], []),
        ({6: (0.6, 0.3, 0.4), 5: (2.0, 0.6, 1.2)}, True, [], [], [0]),  # it may be the shadow of string 5
        ({6: (0.3, 0.4, 0.2)}, False, [(0, 6)], [], []),  # no onset, and yet it rises
        ({6: (0.1, 0.7, 0.3)}, False, [], [], [0]),
        ({6: (0.1, 0.2, 0.1)}, False, [], [0], []),
        ({}, False, [], [0], []),
    ],
)  # fmt: skip
def test_a_lone_pluck(strings, struck, heard, missed, unclear) -> None:
    """A bass on string 6 that was struck, was left out, or lies beside another string."""
    found = decide(_seen("4/4 x1: p . . .", strings, struck))
    assert [(pluck, string) for pluck, string, _ in found.heard] == heard
    assert (found.missed, found.unclear) == (missed, unclear)


@pytest.mark.parametrize(
    ("strings", "heard", "missed", "unclear"),
    [
        ({6: (1.0, 0.5, 0.8), 2: (1.0, 0.5, 0.8)}, [6, 2], [], []),
        ({6: (1.0, 0.9, 0.8)}, [6], [1], []),
        ({6: (1.0, 0.6, 0.8), 1: (0.7, 0.4, 0.5)}, [6, 1], [], []),
        ({6: (1.0, 0.7, 0.8), 4: (0.2, 0.1, 0.06)}, [6], [], [1]),  # something else: who knows
    ],
)
def test_one_string_of_a_pinch(strings, heard, missed, unclear) -> None:
    """Thumb on 6 and middle finger on 2."""
    found = decide(_seen("4/4 x1: p+m . . .", strings))
    assert [string for _, string, _ in found.heard] == heard
    assert (found.missed, found.unclear) == (missed, unclear)


@pytest.mark.parametrize(
    ("fingers", "unclear"),
    [("p+i", [1]), ("p+m", []), ("p+a", [1])],
)
def test_what_a_lower_pluck_covers_is_unclear(fingers: str, unclear: list[int]) -> None:
    """On G 320003 only string 6 sounds: string 3 is its octave, 1 its second; 2 has partials of its own."""
    found = decide(_seen(f"4/4 x1: {fingers} . . .", {6: (1.0, 0.9, 0.8), 5: (0.0, 0.0, 0.0)}))
    assert found.unclear == unclear


def test_one_neighbour_cannot_stand_for_two() -> None:
    """Index and ring on 3 and 1, string 2 alone sounds between them: one slipped, the other was missed."""
    found = decide(_seen("4/4 x1: i+a . . .", {2: (1.0, 0.9, 0.9)}))
    assert [string for _, string, _ in found.heard] == [2]
    assert (found.missed, found.unclear) == ([1], [])


@pytest.mark.parametrize(("score", "sure"), [(-0.66, None), (-0.64, 0.70), (1.5, 0.95)])
def test_an_unplanned_pluck_is_told_from_a_certainty_on(monkeypatch, score, sure) -> None:
    """Less than seven in ten is not told."""
    monkeypatch.setattr(extras, "_score", lambda *_args: score)
    shares = Shares({3: 1.0}, {3: 1.0}, {3: 1.0}, 0.0, np.zeros(1, np.float32))
    seen = extras._Seen(0, 1.0, {3: 55}, shares, {3: np.zeros(11)})
    found = extras._best(None, seen, shares)
    assert (found.sure if found else None) == sure


@pytest.mark.parametrize(
    ("roughly", "kept"),
    [({0: -2.6, 1: -2.4, 2: 3.0}, [1, 2]), ({0: -9.0, 1: -9.0, 2: -9.0}, []), ({1: -9.0}, [0, 2])],
)
def test_what_is_dull_at_half_the_rate_is_not_looked_at_again(monkeypatch, roughly, kept) -> None:
    """What could not be looked at there is: it may be told from all samples."""
    shares = Shares({3: 1.0}, {3: 1.0}, {3: 1.0}, 0.0, np.zeros(1, np.float32))
    seen = [extras._Seen(i, float(i), {3: 55}, shares, {3: np.full(11, i)}) for i in range(3)]
    monkeypatch.setattr(extras, "_beyond", lambda *_args: [(seen[i], shares) for i in roughly])
    monkeypatch.setattr(extras, "_score", lambda _of, measures, *_rest: roughly[int(measures[0])])
    assert [each.candidate for each in extras._promising(None, seen, np.zeros(0))] == kept


def _struck(times: list[float], flux: dict[int, float] | None = None) -> Struck:
    """Candidates with nothing known but their times; each is as loud as the others but for those in `flux`."""
    count, none = len(times), np.zeros((len(times), 1), np.float32)
    ones, struck = np.ones(count), np.ones(count)
    for index, value in (flux or {}).items():
        struck[index] = value
    return Struck(np.array(times), struck, none, none, none, (), none, ones)


@pytest.mark.parametrize("beat", [1.0, 0.75, 1.3, 1.9])
def test_another_tempo_is_found(beat: float) -> None:
    """Sixteen plucks at the planned tempo, faster and slower; each candidate suits its own moment alone."""
    plan = plan_of([(fit(make_piece("| G | C | G | D |", "4/4 x2: p i m i p i m i", tempo=80)), 1)])
    times = [1.0 + beat * t_s for t_s in plan.times]
    worth = np.where(np.eye(len(times)) > 0, 2.0, -1.0)
    placed = place(_struck(times), worth, plan)
    assert placed.of.tolist() == list(range(len(times)))
    assert np.abs(placed.expected - (np.array(times) - 0.005)).max() < 0.02


@pytest.mark.parametrize(
    ("away_s", "flux", "suits", "taken"),
    [
        (0.035, 9.0, 0.0, True),  # the noise before it suits as well, and is nearer: but this was struck
        (-0.035, 9.0, 0.0, True),
        (0.035, 1.0, 0.0, False),
        (0.035, 1.0, 2.0, True),  # it suits better
        (0.035, 9.0, -1.5, False),  # a tap of the foot
        (0.1, 9.0, 0.0, False),  # too far away
    ],
)
def test_a_moment_takes_the_onset_that_was_struck(away_s, flux, suits, taken) -> None:
    """The sixth of sixteen plucks has an onset on its beat, and another one beside it."""
    plan = plan_of([(fit(make_piece("| G | C | G | D |", "4/4 x2: p i m i p i m i", tempo=80)), 1)])
    times = sorted([*(1.0 + t_s for t_s in plan.times), 1.0 + plan.times[5] + away_s])
    other = times.index(1.0 + plan.times[5] + away_s)
    own = 5 if away_s > 0 else 6
    worth = np.full((len(times), len(plan.times)), -1.0)
    for k in range(len(plan.times)):
        worth[k if k < min(own, other) or k == own == 5 else k + 1, k] = 0.5
    worth[other, 5] = 0.5 + suits
    placed = place(_struck(times, {other: flux}), worth, plan)
    assert int(placed.of[5]) == (other if taken else own)


def test_no_moment_leaps_over_the_next() -> None:
    """The third onset is by far the loudest, and suits the first moment, not the second one."""
    of, worth = np.array([0, 1]), np.array([[1.0, -2.0], [-2.0, 1.0], [1.0, -2.0]])
    placing._sharpen(of, _struck([1.0, 1.05, 1.08], {2: 9.0}), worth, np.array([1.0, 1.05]))
    assert of.tolist() == [0, 1]


@pytest.mark.parametrize("waited", [0.1, 0.2, 0.4])
@pytest.mark.parametrize("left_out", [[], [16], [15, 17]])
def test_the_beat_is_held_up_at_once(waited: float, left_out: list[int]) -> None:
    """Everything from the seventeenth pluck on comes so many seconds late: so does the beat, and no sooner."""
    score = 0.25 * np.arange(40.0)
    played = score + waited * (np.arange(40) >= 16)
    known = np.array([k for k in range(40) if k not in left_out])
    beat = running_beat(score, known, played[known])
    assert np.abs(beat - played)[known].max() < 0.012


def test_uneven_plucks_do_not_bend_the_beat() -> None:
    """Plucks that lie 20 ms around the beat: it stays within half of that on average."""
    score = 0.25 * np.arange(60.0)
    played = score + np.random.default_rng(1).normal(0.0, 0.02, 60)
    away = np.abs(running_beat(score, np.arange(60), played) - score)
    assert away.mean() < 0.01 and away.max() < 0.04


def test_a_pinch_that_comes_apart_has_both_its_onsets() -> None:
    """Thumb 40 ms before the finger; the next moment's onset is not taken for it."""
    plan = plan_of([(fit(make_piece("| G |", "4/4 x1: p+m . p i", tempo=60)), 1)])
    times = np.array([1.0, 1.04, 3.0, 3.03, 4.0])
    assert groups_of(np.array([0, 2, 4]), times, plan) == [[0, 1], [2], [4]]


@pytest.mark.parametrize("near", [None, np.array([0, 2, 4, 6])])
def test_each_moment_comes_from_the_one_before(near) -> None:
    """A swelling after each onset is worth less; what is remembered is worked out again on the way back."""
    times = np.array([0.0, 0.03, 1.0, 1.03, 2.0, 2.03, 3.0, 3.03])
    worth = np.tile(np.array([[1.0], [0.2]]), (4, 4))
    found = match(times, worth, np.arange(4.0), np.zeros(4, bool), near=near)
    assert found.of.tolist() == [0, 2, 4, 6]
    assert found.worth == pytest.approx(4.0, abs=1e-4)
    late = match(times, worth, np.arange(4.0) * 3, np.zeros(4, bool), near=near)
    assert late.worth < found.worth


@pytest.mark.parametrize(("goes_on", "last"), [(False, 5), (True, 11)])
@pytest.mark.parametrize("from_behind", [False, True])
def test_a_take_ends_early_or_begins_late_only_where_nothing_is_plucked(goes_on, last, from_behind) -> None:
    """Six moments that suit and six of which little speaks for: left out, unless strings are plucked there."""
    times = np.arange(12.0)
    worth = np.full((12, 12), -3.0)
    np.fill_diagonal(worth, np.where(np.arange(12) < 6, 1.0, -0.6))
    if from_behind:
        worth = worth[::-1, ::-1]
    found = match(times, worth, times, np.zeros(12, bool), plucked=np.full(12, goes_on))
    assert found.reach == (range(11 - last, 12) if from_behind else range(last + 1))


@pytest.mark.parametrize("of", [[0, 1, 2, -1, -1], [-1, -1, 37, 38, 39]])
def test_a_second_match_may_go_on_where_the_first_ended(of) -> None:
    """It may go some seconds from the first where that found something, and anywhere before and after."""
    rows = _around(np.arange(40.0), np.array(of))
    for k, each in enumerate(rows):
        assert (each.start, each.stop) == ((0, 40) if of[k] < 0 else (max(0, of[k] - 4), min(40, of[k] + 5)))
