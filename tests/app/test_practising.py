"""Practising in the real window: rounds marked by key, the ladder, a session led, runs, hearing, the record."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import datetime, timedelta

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMessageBox

from gingham.app.session.document import Document
from gingham.core.practice.attempt import Attempt
from gingham.core.practice.log import VERSION, Log
from gingham.core.practice.waiting import read_waiting, waiting_path
from gingham.core.values import replace
from tests.app.test_practise import row_of
from tests.conftest import play as play_piece

NOW = datetime(2026, 11, 30, 18, 0).astimezone()


class Clock:
    """Time that passes when it is told to: the record's and the rounds' own."""

    def __init__(self) -> None:
        self.passed = 0.0
        self.begin = NOW

    def seconds(self) -> float:
        return self.passed

    def now(self) -> datetime:
        return self.begin + timedelta(seconds=self.passed)


@pytest.fixture
def clock(window) -> Clock:
    """The window's record on a test clock."""
    made = Clock()
    window.logbook.clock = made.now
    window.care._clock = made.seconds
    return made


@pytest.fixture
def practise(qtbot, window, clock):
    """The Practise page, its record read."""
    window.actions_by_id["practise"].trigger()
    page = window.pages.practise
    page.rounds.clock = page.run.clock = clock.seconds
    window.transport.set_count_in("")
    qtbot.waitUntil(lambda: window.logbook.ready)
    return page


def play(qtbot, page, seconds: float, clock: Clock) -> None:
    """Play the chosen stage for some seconds of the test clock."""
    if page.rounds.stage is None:
        page.rounds.play_or_stop()
    if page.rounds.stage.kind == "loop":
        qtbot.waitUntil(lambda: page.rounds._now is not None and page.rounds._now.since is not None)
    clock.passed += seconds


def key(page, letter: str) -> None:
    QTest.keyClick(page.view.stages, getattr(Qt.Key, f"Key_{letter}"))


def test_three_clean_rounds_go_a_step_up_without_stopping(qtbot, practise, window, clock) -> None:
    """C keeps a round of twenty seconds and no shorter one; two failures go a step back; all while it plays."""
    practise.choose_stage("Verse · with-m-G")
    practise.choose_tempo(60)
    play(qtbot, practise, 8, clock)
    key(practise, "C")
    assert window.logbook.record.attempts == () and "12 more" in window.statusBar().currentMessage()
    for _ in range(3):
        play(qtbot, practise, 22, clock)
        key(practise, "C")
    kept = window.logbook.record.attempts
    assert [(a.tempo, a.clean, a.source, a.section) for a in kept] == [(60, True, "marked", "Verse")] * 3
    assert practise.tempo(practise.stage) == 62 and window.transport.playing
    qtbot.waitUntil(lambda: window.transport._stream._player.tempo_bpm == 62)
    assert (
        practise.view.stages.dots(practise.view.stages.currentRow()) == "○○○"
        and "62:" in practise.view.stands.text()
    )
    for _ in range(2):
        clock.passed += 5
        key(practise, "S")
    assert practise.tempo(practise.stage) == 60 and window.logbook.record.attempts[-1].errors == ("strings",)
    assert window.logbook.record.attempts[-1].spots[0].section == "Verse"
    window.transport.stop()


def test_what_is_reached_is_done_and_another_goal_is_not(qtbot, practise, window, clock) -> None:
    """Three clean rounds at the goal: a hook in the list; the piece faster: no hook."""
    practise.choose_stage("Verse · half-1")
    for _ in range(3):
        play(qtbot, practise, 22, clock)
        key(practise, "C")
    window.transport.stop()
    stage = practise.plan.stage("Verse · half-1")
    assert practise.is_done(stage)
    with qtbot.waitSignal(window.shown.settled):
        window.playing.choose_tempo(90)
    assert not practise.is_done(practise.plan.stage("Verse · half-1"))


def test_a_change_is_counted_against_the_clock(qtbot, practise, window, clock) -> None:
    """Space starts a minute; then the number is typed, and what is no number is asked for again."""
    practise.view.stages.choose(row_of(practise, "count"))
    practise.rounds.play_or_stop()
    clock.passed += 61
    practise.rounds._tick()
    asked = practise.view.session.asked
    assert asked.isVisible() and "60 seconds" in asked.placeholderText()
    QTest.keyClicks(asked, "many")
    QTest.keyClick(asked, Qt.Key.Key_Return)
    assert "number" in asked.placeholderText()
    QTest.keyClicks(asked, "24")
    QTest.keyClick(asked, Qt.Key.Key_Return)
    kept = window.logbook.record.attempts[-1]
    assert (kept.kind, kept.figures.count, kept.figures.count_s, " > " in kept.change) == (
        "count",
        24,
        60,
        True,
    )


def test_a_stage_in_steps_goes_step_by_step(practise) -> None:
    """Space: lighten, lift, set, in time; C when it was right, after whatever time."""
    practise.view.stages.choose(row_of(practise, "steps"))
    titles = []
    for _ in range(4):
        practise.play_or_stop()
        titles.append(practise.view.follow.title.split(":")[0])
    assert titles == ["lighten", "lift", "set", "in time"]
    key(practise, "C")
    assert practise.is_done(practise.stage)


def test_the_start_test_waits_for_the_warm_up(qtbot, practise, window, clock) -> None:
    """Cold: it says so. Warm: faster every eight seconds, N ends it, the ladder begins a tenth below."""
    practise.choose_stage("Verse · with-m-G")
    key(practise, "T")
    assert "Warm up first" in window.statusBar().currentMessage() and not window.transport.playing
    for _ in range(5):
        play(qtbot, practise, 22, clock)
        key(practise, "C")
    window.transport.stop()
    key(practise, "T")
    qtbot.waitUntil(lambda: practise.rounds._now is not None and practise.rounds._now.since is not None)
    floor = practise.stage.floor
    for _ in range(4):
        clock.passed += 9
        practise.rounds._tick()
    key(practise, "N")
    kept = window.logbook.record.attempts[-1]
    assert kept.kind == "test" and kept.tempo > floor and not window.transport.playing
    assert practise.tempo(practise.stage) == max(floor, int(kept.tempo * 0.9))


def test_a_session_is_led_with_one_key(qtbot, practise, window, clock) -> None:
    """Enter starts, each part plays, its end is said and nothing cut off, Enter goes on; the record has it."""
    stages = practise.view.stages
    QTest.keyClick(stages, Qt.Key.Key_Return)
    led = practise.leader.led
    assert led is not None and practise.stage.id == led.items[0].stage and window.transport.playing
    assert practise.view.session.now.text().startswith(f"1 of {len(led.items)}  ·  warm-up")
    clock.passed += 60 * led.items[0].minutes + 1
    practise.leader.tick()
    assert "Enter goes on" in practise.view.session.why.text() and window.transport.playing
    before = led.items[1].minutes
    QTest.keyClick(stages, Qt.Key.Key_PageDown)
    assert practise.leader.led.index == 1
    key(practise, "M")
    assert practise.leader.led.item.minutes == before + 2
    here = practise.stage.id
    key(practise, "O")
    assert practise.stage.id != here
    for _ in range(len(led.items)):
        if practise.leader.led is not None:
            QTest.keyClick(stages, Qt.Key.Key_Return)
    assert practise.leader.led is None and "That was the session" in window.statusBar().currentMessage()
    qtbot.waitUntil(
        lambda: bool(window.logbook.record.sessions) and window.logbook.record.sessions[-1].ended != ""
    )
    assert (
        window.logbook.record.sessions[-1].ended_by == "done"
        and window.logbook.record.sessions[-1].minutes == 20
    )
    window.transport.stop()


def test_a_session_begins_whatever_sounds(qtbot, practise, window) -> None:
    """The piece plays: Enter ends that and plays the first part."""
    play_piece(qtbot, window)
    QTest.keyClick(practise.view.stages, Qt.Key.Key_Return)
    assert practise.rounds.stage is practise.stage and window.transport.owner == "stage"
    practise.leader.give_up()
    assert not window.transport.playing


def test_where_it_sticks_the_smaller_stage_is_offered(qtbot, practise, window, clock) -> None:
    """Two failures at a change: its steps; Escape leaves the offer, Enter takes it and comes back."""
    QTest.keyClick(practise.view.stages, Qt.Key.Key_Return)
    while practise.stage.reason.code != "stage-change":
        QTest.keyClick(practise.view.stages, Qt.Key.Key_Return)
    here = practise.stage
    for _ in range(2):
        play(qtbot, practise, 5, clock)
        key(practise, "K")
    assert practise.view.session.go.text().startswith("Do that")
    QTest.keyClick(practise.view.stages, Qt.Key.Key_Escape)
    assert practise.leader.led.offer is None
    for _ in range(2):
        play(qtbot, practise, 5, clock)
        key(practise, "K")
    QTest.keyClick(practise.view.stages, Qt.Key.Key_Return)
    assert practise.stage.kind == "steps" and practise.stage.reason.values == here.reason.values
    QTest.keyClick(practise.view.stages, Qt.Key.Key_Return)
    assert practise.stage.id == here.id
    practise.leader.give_up()


def test_when_it_hurts_everything_stops(qtbot, practise, window, clock) -> None:
    """H: silence, cautions, no session and no ladder, also after a restart, until the player says it is well."""
    practise.choose_stage("Verse · with-m-G")
    play(qtbot, practise, 30, clock)
    key(practise, "H")
    assert not window.transport.playing
    asked = practise.view.session.asked
    QTest.keyClicks(asked, "thumb joint")
    QTest.keyClick(asked, Qt.Key.Key_Return)
    assert [(n.kind, n.text) for n in window.logbook.record.notes] == [("hurt", ""), ("hand", "thumb joint")]
    assert "doctor" in practise.view.session.why.text() and not practise.view.session.go.isEnabled()
    play(qtbot, practise, 30, clock)
    key(practise, "C")
    practise.leader.go_on()
    assert window.logbook.record.attempts == () and practise.leader.led is None
    assert practise.view.session.well.isVisible()
    practise.view.session.well.click()
    key(practise, "C")
    assert len(window.logbook.record.attempts) == 1
    qtbot.waitUntil(practise.view.session.go.isEnabled)
    window.transport.stop()


def test_a_run_never_stops_and_lists_its_slips(qtbot, practise, window, clock) -> None:
    """R plays the piece once; K names the change; the list goes by bar; what slipped makes its change weaker."""
    key(practise, "R")
    qtbot.waitUntil(lambda: practise.run._now is not None and practise.run._now.bar >= 1)
    clock.passed += 10
    practise.run._now.bar, practise.run._now.at = 2, 0.25
    key(practise, "K")
    key(practise, "N")
    assert window.transport.playing
    key(practise, "R")
    kept = window.logbook.record.attempts[-1]
    assert (kept.kind, kept.clean, next(s.bar for s in kept.spots)) == ("run", False, 2)
    assert kept.spots[0].change == "G > Am7"
    assert "Slips: Verse bar 2 late change (G to Am7)" in window.statusBar().currentMessage()


def test_a_stage_is_heard_and_judged(qtbot, practise, window, clock) -> None:
    """L records the rounds of the simulated player: even rounds are clean, uneven ones are not."""
    practise.measuring.sleep = lambda _seconds: None
    practise.choose_stage("Verse · with-m-G")
    for faults, clean in (("jitter=3", True), ("jitter=45", False)):
        window.settings.set_text("simulated-faults", faults)
        count = len(window.logbook.record.attempts)
        tempo = practise.tempo_now
        key(practise, "L")
        practise.choose_tempo(tempo + 9)  # for later: what is being recorded goes on as it began
        qtbot.waitUntil(lambda count=count: len(window.logbook.record.attempts) > count)
        kept = window.logbook.record.attempts[-1]
        assert (kept.source, kept.clean, kept.stage) == ("heard", clean, "Verse · with-m-G")
        assert kept.tempo == tempo
        assert kept.figures.total >= 24 and ("uneven" in kept.errors) != clean
    assert practise.measuring._take is None


# The record on disk.


def an_attempt(window, **changes) -> Attempt:
    stage = "Verse · whole"
    return replace(
        Attempt(window.logbook.today(), window.document.identity, stage, "m", 60, True, seconds=21.0),
        **changes,
    )


def on_disk(window) -> list[Attempt]:
    """What another program would read."""
    window.logbook.close()
    log = Log(window.logbook.path)
    found = list(log.read().attempts)
    log.close()
    return found


def test_what_is_practised_is_on_the_disk(practise, window) -> None:
    window.logbook.add(an_attempt(window))
    assert [a.tempo for a in on_disk(window)] == [60]


@pytest.mark.parametrize("fault", ["newer", "locked", "folder"])
def test_practice_goes_on_without_a_record(qtbot, practise, window, monkeypatch, fault: str) -> None:
    """A newer file, one that another program holds, no file possible: told once, kept in lines, written later."""
    monkeypatch.setattr("gingham.core.practice.log._WAIT_S", 0.05)
    path = window.logbook.path
    window.logbook.close()
    other = sqlite3.connect(path, isolation_level=None)
    if fault == "newer":
        other.execute(f"PRAGMA user_version = {VERSION + 1}")
    elif fault == "locked":
        other.execute("BEGIN EXCLUSIVE")
    else:
        path.rename(path.with_suffix(".aside"))
        path.mkdir()
    said: list[str] = []
    window.logbook.notice.connect(said.append)
    for tempo in (60, 62):
        window.logbook.add(an_attempt(window, tempo=tempo))
    qtbot.waitUntil(lambda: bool(said) and len(read_waiting(path)) == 2)
    assert len(said) == 1 and [a.tempo for a in window.logbook.record.attempts] == [60, 62]
    window.logbook.close()
    with closing(other):
        if fault == "newer":
            other.execute(f"PRAGMA user_version = {VERSION}")
        elif fault == "locked":
            other.execute("ROLLBACK")
        else:
            path.rmdir()
            path.with_suffix(".aside").rename(path)
    window.logbook.add(an_attempt(window, tempo=64))
    assert [a.tempo for a in on_disk(window)] == [60, 62, 64] and not waiting_path(path).exists()


def test_a_crash_in_a_session_loses_nothing(qtbot, practise, window, clock) -> None:
    """Killed between two rounds: every mark is on the disk, the session without an end."""
    QTest.keyClick(practise.view.stages, Qt.Key.Key_Return)
    play(qtbot, practise, 25, clock)
    key(practise, "C")
    qtbot.waitUntil(lambda: practise.leader.session is not None)
    qtbot.waitUntil(lambda: window.logbook._written == 1)
    with closing(sqlite3.connect(window.logbook.path)) as db:
        assert db.execute("SELECT count(*) FROM attempt").fetchone() == (1,)
        assert "ended" not in db.execute("SELECT entry FROM session").fetchone()[0]
    window.transport.stop()


def test_the_record_follows_a_piece_that_is_saved_and_moved(qtbot, practise, window, tmp_path) -> None:
    """Unsaved, saved, saved elsewhere, read again from there: the same attempts."""
    window.logbook.add(an_attempt(window))
    window.document.save(tmp_path / "lantern.gingham")
    (tmp_path / "lantern.gingham").rename(tmp_path / "moved.gingham")

    with qtbot.waitSignal(window.shown.settled):
        window.add(Document.load(tmp_path / "moved.gingham"))
    assert len(window.logbook.attempts(window.document.identity)) == 1


def test_a_take_is_an_attempt_in_the_record(qtbot, practise, window) -> None:
    """Heard on Takes: once, as heard, with where it went wrong; looped bars are no attempt at a stage."""
    window.settings.set_text("simulated-faults", "hesitate=200 jitter=3")
    window.actions_by_id["takes"].trigger()
    takes = window.pages.takes
    takes.taking.sleep = lambda _seconds: None
    takes.view.source.setCurrentIndex(takes.view.source.findData("simulated player"))
    takes.taking.record_or_stop()
    qtbot.waitUntil(lambda: takes.taken is not None)
    (kept,) = window.logbook.record.attempts
    assert (kept.source, kept.stage, kept.clean, kept.errors) == (
        "heard",
        "Verse · whole",
        False,
        ("change",),
    )
    assert kept.mark == practise.plan.stage("Verse · whole").mark and kept.spots[0].ms > 100
    takes.load(takes.kept[0].number)
    qtbot.waitUntil(lambda: takes.taken is not None)
    assert len(window.logbook.record.attempts) == 1, "heard again is not played again"


def test_the_report_for_a_teacher_has_what_was_measured(qtbot, practise, window, clock) -> None:
    """From the Log: the sheet with each bar's fault on it, and what was clean how fast."""
    practise.choose_stage("Verse · with-m-G")
    for letter in "CCCK":
        play(qtbot, practise, 22, clock)
        key(practise, letter)
    window.transport.stop()
    window.actions_by_id["record"].trigger()
    window.pages.record.view.report.click()
    sheet = window.pages.sheet
    qtbot.waitUntil(lambda: bool(sheet.view.canvas.pages))
    qtbot.waitUntil(lambda: "late change ×1" in texts_of(sheet.view.canvas.pages))
    told = texts_of(sheet.view.canvas.pages)
    assert "With the middle on G 72" in told and "4 marked" in told


def texts_of(pages) -> str:
    return " ".join(op.text for page in pages for op in page.ops if hasattr(op, "text"))


def test_any_key_can_be_the_pedal(practise, window, settings) -> None:
    """P, then the pedal: its key starts and goes on from then on, also after a restart."""
    key(practise, "P")
    QTest.keyClick(practise.view.stages, Qt.Key.Key_F)
    assert settings.text("pedal-key", "") == str(int(Qt.Key.Key_F)) and practise.leader.led is None
    QTest.keyClick(practise.view.stages, Qt.Key.Key_F)
    assert practise.leader.led is not None
    practise.leader.give_up()
    settings.set_text("pedal-key", "nonsense")
    assert practise._pedal_kept() == Qt.Key.Key_PageDown


def test_rests_between_rounds_shrink_while_it_plays(qtbot, practise, window, clock) -> None:
    """Two clean rounds take two beats off the four; the player's own setting stays."""
    practise.choose_stage("Verse · with-m-G")
    for _ in range(2):
        play(qtbot, practise, 22, clock)
        key(practise, "C")
    qtbot.waitUntil(lambda: window.transport._stream._player.rest_beats == 2)
    assert window.transport.options.rest_beats == 0
    window.transport.stop()


def test_the_log_saves_notes_copies_and_deletes(qtbot, practise, window, tmp_path, monkeypatch) -> None:
    """CSV and JSON by suffix, a backup that opens, a note, a range of days gone for good."""
    window.logbook.add(an_attempt(window), an_attempt(window, made="2026-11-01T18:00:00+01:00"))
    window.actions_by_id["record"].trigger()
    log = window.pages.record
    log.view.note.setText("slow today")
    QTest.keyClick(log.view.note, Qt.Key.Key_Return)
    assert "slow today" in log.view.notes.text()
    log.save(tmp_path / "out.csv")
    log.save(tmp_path / "out.json")
    assert (tmp_path / "out.csv").read_text().count("\n") == 3 and b"slow today" in (
        tmp_path / "out.json"
    ).read_bytes()
    done = []
    window.logbook.back_up(tmp_path / "copy.sqlite", lambda: done.append(1))
    qtbot.waitUntil(lambda: bool(done))
    monkeypatch.setattr("gingham.app.views.log.controller.ask_range", lambda *_: ("2026-11-01", "2026-11-02"))
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.Yes)
    log.view.delete.click()
    qtbot.waitUntil(lambda: len(window.logbook.record.attempts) == 1)
    assert len(on_disk(window)) == 1
    copy = Log(tmp_path / "copy.sqlite")
    assert len(copy.read().attempts) == 2
    copy.close()


def test_the_log_starts_the_session(practise, window) -> None:
    """Enter on the Log: Practise, the first part, for as long as was chosen there."""
    window.actions_by_id["record"].trigger()
    log = window.pages.record
    log.view.minutes.setValue(12)
    QTest.keyClick(log.view, Qt.Key.Key_Return)
    assert window.pages.current == "practise" and practise.leader.session.minutes == 12
    practise.leader.give_up()
