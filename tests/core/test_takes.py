"""Takes: what is asked, what came of each pluck, the shelf they are kept on, what is listened to."""

from __future__ import annotations

from pathlib import Path

import msgspec
import numpy as np
import pytest

from gingham.core.errors import FileError, TakeError
from gingham.core.listening.analysis import Analysis, Given, analyse
from gingham.core.listening.asked import Asked, question, rounds_in
from gingham.core.listening.replay import as_meant, as_played, together
from gingham.core.listening.score import bar_of, second_of, tempi, time_at
from gingham.core.listening.shelf import Facts, Shelf
from gingham.core.listening.simulate import simulate
from gingham.core.listening.sounds import Sound
from gingham.core.listening.verdict import verdict
from gingham.core.pieces.piece import Piece
from gingham.core.pieces.rules import Rules
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.tape import Tape
from gingham.core.values import replace
from gingham.words.dates import when_text
from gingham.words.takes import difference, late_text, mark_text, take_lines
from tests.conftest import make_piece

FOUR = "| G | Am7 | C | D |"
PATTERN = "4/4 x2: p i m i ; p i m i"


def heard(piece: Piece, asked: Asked, rounds: int = 1, seed: int = 1, **faults: float) -> Analysis:
    """A take of the simulated player, heard."""
    take = simulate(piece, question(piece, asked, rounds).plan, faults, seed)
    return analyse(piece, asked, Given(Sound(take.samples, take.rate, take.rate, 0.0, False)))


@pytest.mark.parametrize(
    ("asked", "rounds", "bars", "plucks"),
    [
        (Asked(84, "Verse"), 1, [1, 2, 3, 4], 32),
        (Asked(84, "Verse", (2, 3)), 2, [1, 2, 3, 4], 32),
        (Asked(84), 1, [1, 2, 3, 4], 32),
        (Asked(84, "Verse", (3, 3)), 3, [1, 2, 3], 24),
    ],
)
def test_what_is_asked(asked: Asked, rounds: int, bars: list[int], plucks: int) -> None:
    made = question(make_piece(FOUR, PATTERN), asked, rounds)
    assert [each.number for each in made.bars] == bars
    inside = [pluck for pluck in made.plan.plucks if pluck.bar <= max(bars)]
    assert len(inside) == plucks


@pytest.mark.parametrize(
    ("seconds", "tempo", "rounds"),
    [(1.0, 60, 1), (16.0, 60, 1), (17.0, 60, 2), (40.0, 120, 5), (1e6, 60, 64)],
)
def test_rounds_that_can_be_in_a_take(seconds: float, tempo: int, rounds: int) -> None:
    """Four bars of four beats are 16 seconds at 60."""
    once = question(make_piece(FOUR, PATTERN), Asked(tempo, "Verse"))
    assert rounds_in(once, seconds) == rounds


def test_a_question_has_the_same_mark_in_every_round_and_another_after_an_edit() -> None:
    piece = make_piece(FOUR, PATTERN)
    mark = question(piece, Asked(84, "Verse")).mark
    assert question(piece, Asked(84, "Verse"), 3).mark == mark
    assert question(make_piece("| G | Am7 | C | Em |", PATTERN), Asked(84, "Verse")).mark != mark


@pytest.mark.parametrize(
    ("chords", "asked", "code"),
    [(FOUR, Asked(84, "Chorus"), "take-section"), ("| N.C. |", Asked(84, "Verse"), "take-nothing")],
)
def test_what_cannot_be_asked(chords: str, asked: Asked, code: str) -> None:
    with pytest.raises(TakeError) as caught:
        question(make_piece(chords, PATTERN), asked)
    assert caught.value.code == code


def test_every_planned_pluck_has_its_place_and_what_became_of_it() -> None:
    piece = make_piece(FOUR, PATTERN, tempo=84)
    found = heard(piece, Asked(84, "Verse"), rounds=2, missed=2, wrong=2, gallop=35, jitter=4)
    states = [mark.state for mark in found.marks if mark.state != "extra"]
    assert len(states) == 64 and states.count("missed") == 2 and states.count("wrong") == 2
    assert found.held == (60, 64)
    wrong = next(mark for mark in found.marks if mark.state == "wrong")
    assert wrong.heard is not None and abs(wrong.heard - wrong.string) == 1
    index = [mark.late_ms for mark in found.marks if mark.finger == "i" and mark.late_ms is not None]
    assert 28 < float(np.median(index)) < 42
    gallop = next(reason for reason in found.said if reason.code == "take-gallop")
    assert bar_of(gallop, found.marks) in range(1, 9)
    missed = next(reason for reason in found.said if reason.code == "take-missed")
    assert bar_of(missed, found.marks) == next(mark.bar for mark in found.marks if mark.state == "missed")


def test_rounds_that_nobody_played_are_not_missing() -> None:
    """A take of one round, with the silence around it as long as half another."""
    found = heard(make_piece(FOUR, PATTERN, tempo=120), Asked(120, "Verse"))
    assert {mark.bar for mark in found.marks} == {1, 2, 3, 4} and found.held == (32, 32)
    assert not {"take-begins", "take-stops"} & {reason.code for reason in found.said}


def test_seconds_of_the_file_and_bars_belong_together() -> None:
    found = heard(make_piece(FOUR, PATTERN, tempo=100), Asked(100, "Verse"), drift=8)
    second = second_of(found.question, found.hearing, 3)
    assert time_at(found.question, found.hearing, second) == pytest.approx(2.0, abs=1e-6)
    speeds = [tempo for _, tempo in tempi(found.question, found.hearing)]
    assert speeds == pytest.approx(
        [101.0, 103.1, 105.3, 107.5], abs=0.8
    )  # 100 at first, 8.7 % faster at the end


def test_a_take_can_be_given_up() -> None:
    piece, asked = make_piece(FOUR, PATTERN, tempo=100), Asked(100, "Verse")
    take = simulate(piece, question(piece, asked).plan, {})
    sound = Sound(take.samples, take.rate, take.rate, 0.0, False)
    with pytest.raises(TakeError) as caught:
        analyse(piece, asked, Given(sound), lambda share: share < 0.5)
    assert caught.value.code == "take-given-up"


def test_the_plan_sounds_when_the_player_came_to_it() -> None:
    found = heard(make_piece(FOUR, PATTERN, tempo=100), Asked(100, "Verse"), hesitate=200)
    samples = as_meant(found, 14.0)
    assert len(samples) == 14 * RATE_HZ
    first = found.marks[0].t_s
    before, after = (samples[int((first + s) * RATE_HZ) :][:2000] for s in (-0.06, 0.01))
    assert np.abs(before).max() < 0.05 * np.abs(after).max()
    low = as_played(Sound(np.sin(np.arange(8000) / 8).astype(np.float32), 8000, 8000, 0.0, False))
    assert len(low) == RATE_HZ and np.abs(together(low, samples)).max() == pytest.approx(0.6, abs=0.01)


def test_a_tape_plays_from_anywhere_to_its_end() -> None:
    tape = Tape(np.arange(RATE_HZ, dtype=np.float32), 0.5)
    assert tape.block(3).tolist() == [22050.0, 22051.0, 22052.0]
    assert tape.position == pytest.approx(0.5 + 3 / RATE_HZ) and tape.step() == 1 / RATE_HZ
    assert tape.block(RATE_HZ)[-1] == 0.0 and tape.finished


FACTS = Facts("Take 1", "2026-11-28T19:30:00+00:00", Asked(72, "Verse"), 31.5, "microphone")


def test_takes_are_kept_renamed_and_deleted(tmp_path: Path) -> None:
    shelf = Shelf(tmp_path / "piece")
    assert shelf.all() == []
    one, two = shelf.take_in(b"fLaC one", FACTS), shelf.take_in(b"fLaC two", replace(FACTS, name="Take 2"))
    assert [kept.number for kept in shelf.all()] == [2, 1]
    shelf.update(one, replace(FACTS, name="With the click", marked=((3, "1/8"),)), b"{}")
    again = shelf.all()[1]
    assert (again.facts.name, again.facts.marked, again.sound.read_bytes()) == (
        "With the click",
        ((3, "1/8"),),
        b"fLaC one",
    )
    assert shelf.report(again).read_bytes() == b"{}"
    shelf.delete(again)
    assert [kept.number for kept in shelf.all()] == [two.number] and not shelf.report(again).exists()
    shelf.move(tmp_path / "named")
    assert shelf.all()[0].facts.name == "Take 2" and not (tmp_path / "piece").exists()


def test_a_recording_that_was_broken_off_is_taken_up(tmp_path: Path) -> None:
    """The program ended while it was recording: sound and facts of the start are there."""
    shelf = Shelf(tmp_path)
    number, part = shelf.begin(FACTS)
    part.write_bytes(b"fLaC half")
    found = Shelf(tmp_path).all()
    assert [(kept.number, kept.sound.read_bytes()) for kept in found] == [(number, b"fLaC half")]


def test_what_cannot_be_read_stays_and_is_told(tmp_path: Path) -> None:
    shelf = Shelf(tmp_path)
    shelf.take_in(b"fLaC", FACTS)
    (tmp_path / "0002.take.json").write_text("{")
    (tmp_path / "0003.take.json").write_bytes(msgspec.json.encode(FACTS))
    assert [kept.number for kept in shelf.all()] == [1]
    assert sorted(path.name for path in shelf.faults) == ["0002.take.json", "0003.take.json"]
    assert shelf.begin(FACTS)[0] == 4


def test_a_shelf_that_cannot_be_written_says_so(tmp_path: Path) -> None:
    (tmp_path / "taken").write_text("a file, no folder")
    with pytest.raises(FileError):
        Shelf(tmp_path / "taken").begin(FACTS)


@pytest.mark.parametrize(
    ("made", "words"),
    [
        ("2026-11-29T08:12:00", "today 08:12"),
        ("2026-11-28T19:30:00", "yesterday 19:30"),
        ("2026-11-25T10:00:00", "Wednesday"),
        ("2026-11-01T10:00:00", "2026-11-01"),
        ("of old", "of old"),
    ],
)
def test_when_a_take_was_made(made: str, words: str) -> None:
    from datetime import date

    assert when_text(made, date(2026, 11, 29)) == words


@pytest.mark.parametrize(
    ("ms", "words"), [(24.4, "24 ms late"), (-8.0, "8 ms early"), (2.0, "on the beat"), (-2.4, "on the beat")]
)
def test_late_and_early_in_words(ms: float, words: str) -> None:
    assert late_text(ms) == words


def test_marks_and_takes_in_words(tmp_path: Path) -> None:
    from datetime import date

    piece = make_piece(FOUR, PATTERN, tempo=84)
    found = heard(piece, Asked(84, "Verse"), rounds=2, missed=1, wrong=1)
    said = [mark_text(mark, piece.meter) for mark in found.marks]
    assert said[0].startswith("bar 1, 1: thumb on string 6, fret 3")
    assert sum(words.endswith("not heard") for words in said) == 1
    assert sum("sounded instead" in words for words in said) == 1
    kept = Shelf(tmp_path).take_in(b"fLaC", replace(FACTS, held=62, total=64, tempo=83.6))
    assert take_lines(kept, date(2026, 11, 29)) == "Take 1\nyesterday 19:30 · 84 · 97 %"


def test_what_is_other_in_a_later_take() -> None:
    piece, asked = make_piece(FOUR, PATTERN, tempo=84), Asked(84, "Verse")
    one = heard(piece, asked, rounds=2, missed=4, gallop=40, hesitate=200)
    other = heard(piece, asked, rounds=2, tempo=92)
    said = difference(one, other)
    assert said[0] == "More plucks on their strings: 94 → 100 %."
    assert any(line.startswith("Faster: 8") for line in said)
    assert any(line.startswith("The index") and line.endswith("on the beat.") for line in said)
    assert any(line.startswith("The change to") for line in said)
    assert difference(one, one) == ["The two takes are alike."]


def test_a_string_of_the_held_chord_is_near_enough_where_the_player_says_so() -> None:
    """The same take is judged strictly, then kindly: a wrong string of the shape is a hit, a missed one never."""
    piece = make_piece(FOUR, PATTERN)
    found = heard(piece, Asked(84, "Verse"), rounds=2, missed=1, wrong=3, jitter=3)
    kind = heard(
        replace(piece, rules=Rules(strict="near")), Asked(84, "Verse"), rounds=2, missed=1, wrong=3, jitter=3
    )
    wrong = [mark for mark in kind.marks if mark.state == "wrong"]
    held = [mark for mark in wrong if kind.is_near(mark)]
    assert len(wrong) == 3 and held and not any(found.is_near(mark) for mark in found.marks)
    for mark in held:
        bar = next(each for each in kind.question.bars if each.number == mark.bar)
        on = bar.result.assignment_at(bar.bar, mark.at)
        assert on is not None and on.fret(mark.heard or 0) == mark.heard_fret
    assert kind.held[0] == found.held[0] + len(held) and kind.held[1] == found.held[1]
    strict, lenient = (
        len([s for s in verdict(each).spots if s.error == "strings"]) for each in (found, kind)
    )
    assert lenient == strict - len(held), "what was near enough is no spot to practise"
