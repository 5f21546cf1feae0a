"""Takes heard against their plan: by hand where it can be, else against a simulated player whose truth is known."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
import soundfile
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.errors import FileError, NumberError, TakeError
from gingham.core.fitting.fit import fit
from gingham.core.fitting.performance import perform
from gingham.core.formats.piece_file import load_piece
from gingham.core.listening.aligning import match
from gingham.core.listening.attack import Attacks
from gingham.core.listening.fewer import as_listened, decimated
from gingham.core.listening.heard import Hearing
from gingham.core.listening.hearing import _is_piece, hear
from gingham.core.listening.plan import TakePlan, plan_of
from gingham.core.listening.report import report
from gingham.core.listening.simulate import Take, read_fault, simulate
from gingham.core.listening.sounds import read_sound
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import STEEL_FINGER, pluck
from gingham.core.values import replace
from gingham.words.errors import say
from gingham.words.listening import take_text
from tests.conftest import HEARTH, make_piece

DEMO = Path(__file__).parents[2] / "src" / "gingham" / "data" / "demo"
LANTERNS, BARLEY, NETMENDER = (
    load_piece(DEMO / f"{name}.gingham")
    for name in ("forty-lanterns", "brine-and-barley", "netmenders-round")
)


def once(piece) -> TakePlan:
    """The first section of a piece, played once."""
    return plan_of([(fit(piece, 0), 1)])


def heard(piece, plan: TakePlan, **faults: float) -> tuple[Take, Hearing]:
    """A simulated take and what is heard in it."""
    take = simulate(piece, plan, faults, seed=5)
    return take, hear(take.samples, take.rate, plan)


# What should be played.


@pytest.mark.parametrize(
    ("chords", "pattern", "changes", "times", "strings"),
    [
        # quarters at 60: a second each; G{320003}: root on 6, the partner on 4, i on 3
        ("| G{320003} |", "4/4 x1: p i p i", {"tempo": 60}, [0, 1, 2, 3], [6, 3, 4, 3]),
        # swing 2/3: the second eighth comes two thirds into the beat
        (
            "| G{320003} |",
            "4/4 x2: p i . . . . . .",
            {"tempo": 60, "swing": Fraction(2, 3)},
            [0, 2 / 3],
            [6, 3],
        ),
        # 6/8 counts dotted quarters: an eighth is a third of a second at 60
        (
            "| G{320003} |",
            "6/8 x3: p i m p i m",
            {"tempo": 60},
            [0, 1 / 3, 2 / 3, 1, 4 / 3, 5 / 3],
            [6, 3, 2, 4, 3, 2],
        ),
    ],
)
def test_a_plan_says_when_and_where(chords, pattern, changes, times, strings) -> None:
    """Seconds from the first pluck, worked out by hand."""
    plan = once(make_piece(chords, pattern, **changes))
    assert [p.t_s for p in plan.plucks] == pytest.approx(times)
    assert [p.string for p in plan.plucks] == strings


def test_bars_are_counted_as_they_are_played() -> None:
    """A pick-up is bar 0; a repeat goes on counting; moments hold what is struck together; the capo sounds."""
    piece = make_piece("(1/4 D) | G{320003} | C |", HEARTH, capo=2)
    plan = plan_of([(fit(piece), 2)])
    assert plan.plucks[0].bar == 0 and max(p.bar for p in plan.plucks) == 5
    first = next(moment for moment in plan.moments if plan.plucks[moment[0]].bar == 1)
    assert [(plan.plucks[i].string, plan.plucks[i].midi) for i in first] == [(6, 40 + 3 + 2), (2, 59 + 2)]
    assert dict(plan.held[1].pitches) == {6: 45, 5: 49, 4: 52, 3: 57, 2: 61, 1: 69}


# How it is found.


@pytest.mark.parametrize(
    ("times", "expected", "of"),
    [
        ([0.0, 1.0, 2.0, 3.0], [0.0, 1.0, 2.0, 3.0], [0, 1, 2, 3]),
        ([0.0, 0.5, 1.0, 2.0, 3.0], [0.0, 1.0, 2.0, 3.0], [0, 2, 3, 4]),  # one too many
        ([0.0, 1.0, 3.0], [0.0, 1.0, 2.0, 3.0], [0, 1, -1, 2]),  # one is missing
        ([0.0, 1.0, 2.8, 3.8], [0.0, 1.0, 2.0, 3.0], [0, 1, 2, 3]),  # a hesitation
    ],
)
def test_moments_are_matched_in_order(times, expected, of) -> None:
    """Every candidate suits every moment equally: only the times say which is which."""
    worth = np.full((len(times), len(expected)), 2.0)
    changes = np.array([False, False, True, False])
    assert match(np.array(times), worth, np.array(expected), changes).of.tolist() == of


def test_a_second_match_near_the_first_finds_the_same() -> None:
    """A hundred moments, a stop of twelve seconds at a change, five left out, and as many candidates of nothing."""
    random = np.random.default_rng(4)
    expected, changes = np.arange(100) * 0.4, np.arange(100) % 8 == 0
    played = np.where(np.arange(100) < 48, expected, expected + 12.0) + random.normal(0.0, 0.01, 100)
    kept = np.setdiff1d(np.arange(100), [10, 30, 31, 60, 99])
    times = np.concatenate([played[kept], random.uniform(0.0, 52.0, 95)])
    worth = np.full((190, 100), -0.5)
    worth[np.arange(95), kept] = 1.8
    order = np.argsort(times)
    times, worth = times[order], worth[order]
    first = match(times, worth, expected, changes)
    again = match(times, worth, expected, changes, near=first.of)
    assert again.of.tolist() == first.of.tolist() and again.worth == pytest.approx(first.worth)
    assert sum(worth[first.of[k], k] > 0 for k in kept) > 90
    nothing = match(times, worth, expected, changes, near=np.full(100, -1))
    assert nothing.of.tolist() == first.of.tolist()


@pytest.mark.parametrize("midi", [40, 52, 64, 71])
def test_a_pluck_into_ringing_strings_is_timed_to_a_millisecond(midi: int) -> None:
    """The third of a second after another string; the candidate of the flux lies some milliseconds late."""
    out = np.zeros(RATE_HZ, np.float32)
    out += pluck(45, STEEL_FINGER, 1.0)
    start = round(0.4 * RATE_HZ)
    out[start:] += 0.6 * pluck(midi, STEEL_FINGER, 0.6)[: RATE_HZ - start]
    attack = Attacks(out, RATE_HZ).at(0.406)
    assert attack.t_s == pytest.approx(0.4, abs=0.0015) and attack.rise_db > 6


def test_attacks_that_were_foreseen_are_the_same() -> None:
    """Also one too near the beginning to be foreseen, one in silence, and one at the end."""
    out = np.zeros(2 * RATE_HZ, np.float32)
    out[round(0.05 * RATE_HZ) :][:RATE_HZ] += pluck(45, STEEL_FINGER, 1.0)[:RATE_HZ]
    out[round(0.5 * RATE_HZ) :][: RATE_HZ // 2] += pluck(59, STEEL_FINGER, 0.6)[: RATE_HZ // 2]
    near = np.array([0.056, 0.506, 1.6, 1.999])
    alone, foreseen = Attacks(out, RATE_HZ), Attacks(out, RATE_HZ)
    foreseen.foresee(near)
    for each in near.tolist():
        one, other = alone.at(each), foreseen.at(each)
        assert one.t_s == pytest.approx(other.t_s) and one.rise_db == pytest.approx(other.rise_db)


def test_bringing_the_rate_down_keeps_the_time() -> None:
    """A slow wave is the same at a quarter of the rate."""
    time = np.arange(8000) / 8000
    slow = np.sin(2 * np.pi * 100 * time).astype(np.float32)
    assert np.abs(decimated(slow, 4)[50:-50] - slow[::4][50:-50]).max() < 0.01


@given(st.integers(1, 700), st.integers(2, 9))
def test_bringing_the_rate_down_is_a_low_pass_at_every_length(count: int, factor: int) -> None:
    """The same as filtering every sample and keeping some, up to both ends of the take."""
    noise = np.random.default_rng(count).standard_normal(count).astype(np.float32)
    away = np.arange(16 * factor + 1) - 8 * factor
    taps = np.sinc(0.9 * away / factor) * np.hanning(16 * factor + 1)
    whole = np.convolve(noise, taps / taps.sum())[8 * factor : 8 * factor + count]
    assert decimated(noise, factor) == pytest.approx(whole[::factor], abs=1e-5)


@pytest.mark.parametrize(
    ("rate", "listened"),
    [(44_100, 22_050), (48_000, 24_000), (96_000, 24_000), (88_200, 22_050), (32_000, 32_000), (22_050, 22_050),
     (8_000, 8_000), (44_101, 44_101), (44_102, 22_051)],
)  # fmt: skip
def test_a_take_is_halved_while_that_is_enough(rate: int, listened: int) -> None:
    """What is looked at stays as loud, what would fold down on it goes, and times stay."""
    time = np.arange(rate) / rate
    for hz in (200.0, 7_500.0):
        sound, found = as_listened(np.sin(2 * np.pi * hz * time).astype(np.float32), rate)
        assert found == listened and len(sound) == -(-rate // (rate // listened))
        if hz < 0.45 * rate:
            there = np.sin(2 * np.pi * hz * np.arange(len(sound)) / found)
            assert np.abs(sound - there)[99:-99].max() < 0.05
    above = np.sin(2 * np.pi * 15_000.0 * time).astype(np.float32)
    assert listened == rate or np.abs(as_listened(above, rate)[0][99:-99]).max() < 0.01


@pytest.mark.parametrize("piece", [LANTERNS, BARLEY, NETMENDER], ids=lambda p: p.title)
def test_a_faultless_take_has_no_faults(piece) -> None:
    """Every pluck on its string, none missed, none more; no hesitation, no gallop; detuned by 15 cents it stays so."""
    plan = once(piece)
    take, hearing = heard(piece, plan, detune=15.0, room=0.2, noise=-55.0)
    assert not hearing.missed and all(note.planned is not None for note in hearing.notes)
    assert all(note.string == plan.plucks[note.planned].string for note in hearing.notes)
    truth = {p.planned: p.t_s for p in take.played}
    away = [1000 * (note.t_s - truth[note.planned]) for note in hearing.notes]
    assert np.percentile(np.abs(np.array(away) - np.median(away)), 90) < 3
    assert np.median(list(hearing.cents.values())) == pytest.approx(15, abs=4)
    said = report(hearing, plan)
    assert said.tempo == pytest.approx(piece.tempo, rel=0.01) and abs(said.drift_percent) < 1.5
    assert max((change.ms for change in said.changes), default=0.0) < 30
    assert {r.code for r in said.summary} <= {"take-held", "take-even"}


@pytest.mark.parametrize("piece", [LANTERNS, BARLEY, NETMENDER], ids=lambda p: p.title)
def test_what_was_done_wrong_is_found(piece) -> None:
    """Missed and wrong plucks by their place; of the extra ones those that are clear, and next to no others."""
    plan = plan_of([(fit(piece, 0), 2)])
    faults = {"missed": 5.0, "wrong": 5.0, "extra": 6.0, "jitter": 8.0, "room": 0.3, "noise": -50.0}
    take = simulate(piece, plan, faults, seed=2)
    hearing = hear(take.samples, take.rate, plan)
    assert set(take.missed) <= {*hearing.missed, *hearing.unclear} and len(hearing.missed) <= 6
    wrong = {(p.planned, p.string) for p in take.played if p.kind == "wrong"}
    found = {
        (n.planned, n.string)
        for n in hearing.notes
        if n.planned is not None and n.string != plan.plucks[n.planned].string
    }
    assert len(wrong & found) >= len(wrong) - 1 and len(found - wrong) <= 1
    extra = [p for p in take.played if p.kind == "extra"]
    more = [n for n in hearing.notes if n.planned is None]
    near = [n for n in more if any(abs(n.t_s - p.t_s) < 0.05 and n.string == p.string for p in extra)]
    assert len(near) >= 2 and len(more) - len(near) <= 1


@pytest.mark.parametrize(
    ("faults", "code", "value"),
    [
        ({"gallop": 45.0}, "take-gallop", ("ms", 45, 9)),
        ({"hesitate": 250.0}, "take-change", ("ms", 250, 25)),
        ({"drift": 12.0}, "take-drift", ("percent", 12, 4)),
    ],
)
def test_how_time_was_kept_is_told_in_numbers(faults, code: str, value) -> None:
    """The sentence has the fault that was put in, and its words."""
    plan = plan_of([(fit(NETMENDER), 2)])
    _, hearing = heard(NETMENDER, plan, **faults)
    said = report(hearing, plan)
    reason = next(r for r in said.summary if r.code == code)
    name, wanted, near = value
    assert float(reason.value(name)) == pytest.approx(wanted, abs=near)
    assert str(reason.value(name)) in take_text(reason)


@pytest.mark.parametrize("besides", [{"tap": -14.0}, {"squeak": -20.0}, {"tap": -16.0, "squeak": -22.0}])
@pytest.mark.parametrize("piece", [LANTERNS, NETMENDER], ids=lambda p: p.title)
def test_a_foot_and_squeaks_are_no_plucks_and_move_none(piece, besides) -> None:
    """Nothing more, nothing missed, and nine of ten plucks within 8 ms of where they were."""
    plan = once(piece)
    take, hearing = heard(piece, plan, **besides)
    quiet = simulate(piece, plan, {}, seed=5)
    assert np.abs(take.samples - quiet.samples).max() > 0.03
    assert not hearing.missed and all(note.planned is not None for note in hearing.notes)
    assert all(note.string == plan.plucks[note.planned].string for note in hearing.notes)
    truth = {p.planned: p.t_s for p in take.played}
    assert np.percentile([abs(note.t_s - truth[note.planned]) for note in hearing.notes], 90) < 0.008


def test_the_player_may_take_another_tempo_begin_later_and_break_off() -> None:
    """A third slower; from the middle of the piece; to bar 5."""
    plan = once(BARLEY)
    _, slow = heard(BARLEY, plan, tempo=38.0)
    assert not slow.missed and report(slow, plan).tempo == pytest.approx(38, rel=0.02)
    take, _ = heard(BARLEY, plan, bars=5.0)
    part = hear(take.samples, take.rate, plan)
    codes = {r.code: dict(r.values) for r in report(part, plan).summary}
    assert codes["take-stops"]["bar"] == 5 and not part.missed
    late = hear(take.samples[int(5.0 * take.rate) :], take.rate, plan)
    assert any(r.code == "take-begins" for r in report(late, plan).summary) and len(late.missed) <= 1


def test_without_a_tempo_only_order_and_strings_count() -> None:
    """Plucked as slowly as the player likes, with stops anywhere: nothing is missed, nothing said of time."""
    plan = once(NETMENDER)
    take = simulate(NETMENDER, plan, {"tempo": 60.0, "hesitate": 1500.0, "jitter": 40.0}, seed=2)
    hearing = hear(take.samples, take.rate, plan, free=True)
    said = report(hearing, plan, free=True)
    assert len(hearing.missed) <= 1 and all(ms is None for ms in said.late_ms)
    assert {r.code for r in said.summary} <= {
        "take-held",
        "take-missed",
        "take-extra",
        "take-wrong",
        "take-unclear",
    }


def test_of_two_plucks_on_one_pitch_neither_is_missed() -> None:
    """On the re-entrant ukulele strings 4 and 1 of Am sound A4 both."""
    piece = replace(
        NETMENDER,
        sections=(replace(NETMENDER.sections[0], chords=parse_chord_line("| Am{2000} | Am{2000} |" * 1, NETMENDER.meter), bars=(), words=()),),
    )  # fmt: skip
    plan = once(piece)
    _, hearing = heard(piece, plan)
    assert not hearing.missed


# What cannot be judged.


@pytest.mark.parametrize(
    ("reach", "matched", "fit", "is_piece"),
    [
        (range(20), 0.6, 0.42, True),
        (range(20), 0.9, 0.38, False),  # a tenth of it without an onset: the pitches must suit
        (range(20), 1.0, 0.38, True),  # all of it in order: bright strings may suit less
        (range(15), 1.0, 0.38, False),  # all of a part is not all
        (range(20), 1.0, 0.3, False),
        (range(20), 0.4, 0.9, False),
        (range(3, 9), 1.0, 0.9, False),  # six in a row may fit by chance
    ],
)
def test_what_passes_for_the_piece(reach, matched, fit, is_piece) -> None:
    """Of a plan with 20 moments: the part that was found, the share of it with an onset, how pitches suit."""
    heard_so = Hearing((), (), (), (), reach, matched, fit, {})
    assert _is_piece(heard_so, 20) == is_piece


def test_other_music_and_other_tunings_are_told(tmp_path: Path) -> None:
    """The round is not the lanterns; a semitone up is told as that."""
    plan = once(LANTERNS)
    take = simulate(NETMENDER, once(NETMENDER), {}, seed=1)
    with pytest.raises(TakeError, match="take-other"):
        hear(take.samples, take.rate, plan)
    up = simulate(LANTERNS, plan, {"detune": 100.0}, seed=1)
    with pytest.raises(TakeError, match="take-shifted") as caught:
        hear(up.samples, up.rate, plan)
    assert "1 semitone higher" in say(caught.value)
    with pytest.raises(TakeError, match="take-other"):
        hear(0.1 * np.random.default_rng(0).standard_normal(4 * RATE_HZ).astype(np.float32), RATE_HZ, plan)


@pytest.mark.parametrize(
    ("name", "code"),
    [
        ("silent.wav", "take-silent"),
        ("text.wav", "take-format"),
        ("gone.wav", "file-missing"),
        ("nan.wav", "take-broken"),
    ],
)
def test_a_file_without_a_take_is_told(tmp_path: Path, name: str, code: str) -> None:
    """One clear message each."""
    soundfile.write(tmp_path / "silent.wav", np.zeros(8000), 8000)
    (tmp_path / "text.wav").write_text("hello", encoding="utf-8")
    soundfile.write(tmp_path / "nan.wav", np.full(8000, np.nan, np.float32), 8000, subtype="FLOAT")
    with pytest.raises(FileError, match=code) as caught:
        read_sound(tmp_path / name)
    assert name in say(caught.value)


def test_any_rate_and_any_channels_are_read(tmp_path: Path) -> None:
    """Eight channels become one; high rates come down; a file that breaks off is read as far as it goes."""
    tone = 0.3 * np.sin(np.arange(96_000) * 0.05).astype(np.float32)
    soundfile.write(tmp_path / "many.wav", np.repeat(tone[:, None], 8, 1), 96_000)
    many = read_sound(tmp_path / "many.wav")
    assert (many.rate, many.file_rate) == (48_000, 96_000) and many.seconds == pytest.approx(1.0, abs=0.01)
    soundfile.write(tmp_path / "whole.flac", tone, 44_100)
    data = (tmp_path / "whole.flac").read_bytes()
    (tmp_path / "part.flac").write_bytes(data[: len(data) // 2])
    part = read_sound(tmp_path / "part.flac")
    assert part.cut and 0.2 < part.seconds < 1.9
    wave = bytearray((tmp_path / "many.wav").read_bytes())
    wave[4:8] = wave[40:44] = (2**31 - 8).to_bytes(4, "little")
    (tmp_path / "huge.wav").write_bytes(wave)
    assert read_sound(tmp_path / "huge.wav").seconds == pytest.approx(1.0, abs=0.01)


@pytest.mark.parametrize("text", ["gallop", "gallop=x", "gallop=9999", "sneeze=1", "missed=-1"])
def test_a_fault_that_there_is_not_is_told(text: str) -> None:
    """With what there is, or the bounds."""
    with pytest.raises(NumberError):
        read_fault(text)


def test_the_same_seed_plays_the_same_take() -> None:
    """Sample for sample; another one does not."""
    plan = once(NETMENDER)
    one, same, other = (simulate(NETMENDER, plan, {"jitter": 10.0}, seed) for seed in (3, 3, 4))
    assert np.array_equal(one.samples, same.samples) and one.played == same.played != other.played
    assert len(perform(NETMENDER).results) and len(one.played) == len(plan.plucks)
