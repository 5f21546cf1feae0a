"""Stretches that are looped, counting in, clicks, rests, calls of changes, layers, strings that stop."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.fitting.fit import fit
from gingham.core.fitting.whole import fit_piece
from gingham.core.sound.player import Player
from gingham.core.sound.timeline import COUNT_INS, Timeline, around, between, cut, joined, timeline
from gingham.core.sound.voices import VoiceBank
from gingham.core.values import replace
from tests.conftest import HEARTH, Dry, make_piece

RATE = VoiceBank().rate_hz


class Ticks(Dry):
    """A sample of 1 at every note's onset, so that onsets can be read off the sound."""

    def note(self, note):
        """One sample."""
        return np.ones(1, dtype=np.float32)


def line_of(chords: str = "| G | C | D | G |", pattern: str = HEARTH, **changes) -> Timeline:
    """The timeline of one section."""
    return timeline(fit_piece(make_piece(chords, pattern, **changes)))


def onsets(player: Player, seconds: float) -> list[float]:
    """When something begins to sound, in seconds."""
    sound = np.concatenate([player.block(1000) for _ in range(int(seconds * RATE / 1000))])
    return [round(float(i) / RATE, 3) for i in np.nonzero(np.abs(sound) > 0.05)[0]]


@given(st.integers(0, 15), st.integers(1, 16))
def test_a_cut_holds_what_lies_in_it_and_cuts_join_again(begin: int, length: int) -> None:
    """In eighths of a piece of two bars: every note and click once, nothing else; both parts joined are the whole."""
    line = line_of("| G | C |")
    at, end = begin / 8, min(16, begin + length) / 8
    part = cut(line, at, end)
    inside = [note for note in line.notes if at - 1e-6 <= note.at < end - 1e-6 and note.gain]
    assert [n.at + at for n in part.notes if n.gain] == pytest.approx([n.at for n in inside])
    assert part.length == pytest.approx(end - at)
    for moment in np.linspace(0.0, part.length, 7, endpoint=False):
        assert part.place(float(moment))[0].bar == line.place(float(moment) + at)[0].bar
    if begin > 0:
        whole = joined(cut(line, 0.0, at), cut(line, at, line.length))
        assert [n.at for n in whole.notes] == pytest.approx([n.at for n in line.notes])
        assert [at for at, _ in whole.clicks] == pytest.approx([at for at, _ in line.clicks])


def test_a_change_is_looped_with_half_a_pattern_on_each_side() -> None:
    """In the middle, and at the seam, where the end of the piece comes before its start."""
    line = line_of("| G{320003} | C{x32010} |")
    middle = around(line, 1.0, 0.5, 0.5)
    assert middle.length == 1.0 and [p.bar for p in middle.places] == [1, 2]
    assert [at for at, *_ in middle.changes] == pytest.approx([0.5])
    seam = around(line, 0.0, 0.5, 0.5)
    assert [seam.place(at)[0].bar for at in (0.1, 0.6)] == [2, 1]
    basses = [n.string for n in seam.notes if n.finger == "p"]
    assert basses == [5, 4, 6, 4]


def test_a_loop_of_any_stretch_has_no_gap() -> None:
    """Three eighths going round at 60: an onset every half second, across every seam."""
    part = cut(line_of("| G |", "4/4 x2: p i m a p i m a"), 0.125, 0.5)
    found = onsets(Player(part, Ticks(), 60.0, loop=True), 9.0)
    assert found == pytest.approx([0.5 * k for k in range(18)], abs=0.001)


@pytest.mark.parametrize(
    ("style", "clicks", "music"),
    [
        ("bar", [0.0, 0.5, 1.0, 1.5], 2.0),
        ("subdivided", [0.0, 0.25, 0.5, 0.75, 1.0, 1.25, 1.5, 1.75], 2.0),
        ("two", [0.0, 0.5], 1.0),
        ("ready", [0.0], 1.0),
    ],
)
def test_the_ways_to_count_in(style: str, clicks: list[float], music: float) -> None:
    """At 120 beats a minute; the music begins where it was counted to."""
    player = Player(line_of("| G |", "4/4 x2: p . . . . . . ."), Ticks(), 120.0)
    player.count_in(style)
    sound = np.abs(np.concatenate([player.block(1000) for _ in range(100)]))
    loud = np.nonzero(sound > 0.04)[0]
    starts = [float(i) / RATE for i in loud[np.insert(np.diff(loud) > 3000, 0, True)]]
    assert starts == pytest.approx([*clicks, music], abs=0.012)
    assert style in COUNT_INS


def test_clicks_have_the_meter_s_accents() -> None:
    """Strong on the bar line, beats, and what lies between; in 6/8 two beats and six eighths."""
    four = [how for _, how in line_of("| G |").clicks]
    assert four == [2, 0, 1, 0, 1, 0, 1, 0]
    six = line_of("| G |", "6/8 x3: p i m a m i")
    assert [how for _, how in six.clicks] == [2, 0, 0, 1, 0, 0]
    player = Player(four_beats := line_of("| G |", "4/4 x1: . . . ."), Ticks(), 60.0)
    assert four_beats.length == 1.0
    counts = []
    for level in (0, 1, 2):
        player = Player(line_of("| G |", "4/4 x2: . . . . . . . ."), Ticks(), 60.0)
        player.clicks = level
        sound = np.abs(np.concatenate([player.block(1000) for _ in range(170)]))
        loud = np.nonzero(sound > 0.04)[0]
        counts.append(int(np.sum(np.diff(loud, prepend=-9999) > 3000)))
    assert counts == [0, 4, 8]


def test_rests_between_rounds_shrink_away() -> None:
    """Two beats, then one, then none: the rounds begin ever sooner after each other."""
    player = Player(line_of("| G |", "4/4 x1: p . . ."), Ticks(), 60.0, loop=True)
    player.rest_beats, player.shrinking = 2, True
    assert onsets(player, 19.5)[:4] == pytest.approx([0.0, 6.0, 11.0, 15.0], abs=0.001)
    assert player.rounds >= 3 and player.rest_beats == 0


def test_changes_are_called_a_pattern_ahead() -> None:
    """On the line for the screen, and as a soft tone if wanted."""
    line = line_of("| G{320003} | C{x32010} |")
    assert [(at, called) for at, called, _, _ in line.changes] == [(0.0, 0.0), (1.0, 0.0)]
    half = line_of("| G{320003} | C{x32010} |", "4/4 x2: p i m i")
    assert half.coming(0.4) is None and half.coming(0.6)[3] == 1
    silent = line_of("| G{320003} | C{x32010} |", "4/4 x2: . . . .")
    player = Player(replace(silent, notes=()), Ticks(), 60.0)
    player.cues = True
    sound = np.abs(np.concatenate([player.block(1000) for _ in range(300)]))
    assert (
        sound[int(2.02 * RATE) : int(2.2 * RATE)].max()
        > 0.04
        > sound[int(1.0 * RATE) : int(1.9 * RATE)].max()
    )


def test_single_fingers_and_the_fretting_hand_can_be_silent() -> None:
    """What is muted has no onset; everything else keeps its time."""
    line = line_of("| G{320003} |", "4/4 x2: p i^ m a p . . .")
    for muted, count in (("", 5), ("p", 3), ("im", 3), ("imac", 2)):
        player = Player(line, Ticks(), 60.0)
        player.muted = frozenset(muted)
        assert len(onsets(player, 3.9)) == count, muted
    hammered = line_of("| Am{x02210} |", "4/4 x2: p i^ . . . . . .")
    player = Player(hammered, Ticks(), 60.0)
    player.muted = frozenset({""})
    assert len(onsets(player, 3.9)) == len([n for n in hammered.notes if n.finger]) == 2


def test_a_string_stops_when_its_finger_leaves_it() -> None:
    """From G to C string 6 is let go at the change; a string that stays open rings on."""
    result = fit(make_piece("| G{320003} | C{x32010} |", "4/4 x1: p i . ."))
    line = timeline([result])
    stops = {note.string for note in line.notes if not note.gain}
    assert 6 in stops and 3 not in stops
    bank = VoiceBank()
    player = Player(line, bank, 120.0)
    player.muted = frozenset("imac")
    sound = np.concatenate([player.block(1000) for _ in range(100)])
    before, after = sound[int(1.8 * RATE) : int(1.99 * RATE)], sound[int(2.6 * RATE) : int(2.9 * RATE)]
    low = np.abs(np.fft.rfft(before, 8192))[10:30].max()
    assert low > 4 * np.abs(np.fft.rfft(after, 8192))[14:20].max(), "the G of string 6 is gone"


@given(st.lists(st.integers(0, 40), max_size=30), st.integers(-2, 42), st.integers(0, 44))
def test_what_lies_between_two_times_is_found_in_order(times: list[int], begin: int, length: int) -> None:
    """The same as looking at everything; what begins where the stretch ends is outside."""
    ordered = [float(time) for time in sorted(times)]
    found = list(between(ordered, float(begin), float(begin + length), key=float))
    assert found == [time for time in ordered if begin <= time < begin + length]


def test_the_place_and_the_next_change_of_every_moment() -> None:
    """Where one is, before and after the piece too, and which chord has been called: a bar ahead."""
    line = line_of("| G | C | C | D |")
    assert [line.place(at)[0].bar for at in (-1.0, 0.0, 0.99, 1.0, 2.5, 3.0, 9.0)] == [1, 1, 1, 2, 3, 4, 4]
    assert [entry[:2] for entry in line.changes] == [(0.0, 0.0), (1.0, 0.0), (3.0, 2.0)]
    coming = [line.coming(at) for at in (0.0, 0.5, 1.0, 1.9, 2.0, 2.9, 3.0)]
    assert [entry and entry[0] for entry in coming] == [1.0, 1.0, None, None, 3.0, 3.0, None]
