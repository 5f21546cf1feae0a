"""A week of practice through the real window, on a test clock: a player whose faults the plan is not told."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, timedelta

import pytest
from benchmarks.pupil import Pupil
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from gingham.core.practice.ladder import ladder
from gingham.core.practice.review import current
from gingham.core.practice.session import change_name
from gingham.core.values import replace
from tests.conftest import make_piece

MONDAY = datetime(2026, 11, 30, 18, 0).astimezone()
CHORDS = (
    "| G{320003} | Em{022000} | C{x32010} | D{xx0232} | Am{x02210} | G/B{x2003x} | C{x32010} | D{xx0232} |"
)
WEAK = ("Am", "G/B")


class Evening:
    """The player at the window: keys only; time passes on the clock."""

    def __init__(self, qtbot, window) -> None:
        self.qtbot, self.window, self.now = qtbot, window, MONDAY
        self.pupil = Pupil(84, {WEAK: 0.7}, seed=3)
        self.drilled: list[set[str]] = []
        self.rests = 0
        window.logbook.clock = lambda: self.now
        window.transport.set_count_in("")
        window.actions_by_id["practise"].trigger()
        self.page = window.pages.practise
        self.page.rounds.clock = self.page.run.clock = self.seconds
        qtbot.waitUntil(lambda: window.logbook.ready)

    def seconds(self) -> float:
        return (self.now - MONDAY).total_seconds()

    def key(self, key: Qt.Key) -> None:
        QTest.keyClick(self.page.view.stages, key)

    def session(self, minutes: int) -> None:
        """From Enter to the end."""
        self.page.view.session.minutes.setValue(minutes)
        self.key(Qt.Key.Key_Return)
        seen: set[str] = set()
        while (led := self.page.leader.led) is not None:
            stage = self.page.plan.stage(led.item.stage)
            if led.item.kind == "change":
                seen.add(change_name(stage))
            if led.item.kind == "rest":
                self.rests += 1
            else:
                self.part(stage, run=led.item.kind == "run")
            self.now += timedelta(seconds=self.page.leader.led.left_s + 1)
            self.page.leader.tick()
            self.key(Qt.Key.Key_Return)
        self.drilled.append(seen)
        self.window.transport.stop()

    def part(self, stage, *, run: bool) -> None:
        """Round after round until the part's time is nearly over; each marked by what the fingers did."""
        page = self.page
        if run:
            self.qtbot.waitUntil(lambda: page.run._now is not None and page.run._now.since is not None)
            self.now += timedelta(seconds=30)
            return
        while page.leader.led.left_s > 26 and page.leader.led.offer is None:
            if page.rounds.stage is None:
                page.rounds.play_or_stop()
            now = page.rounds._now
            if stage.kind not in ("free", "steps"):
                self.qtbot.waitUntil(lambda now=now: now.since is not None)
            clean, errors, spots = self.pupil.play(stage, now.tempo, page.plan)
            self.now += timedelta(seconds=22)
            if spots:
                now.section, now.bar, now.at = stage.section, spots[0].bar, 0.0
            self.key(Qt.Key.Key_C if clean else Qt.Key.Key_K if "change" in errors else Qt.Key.Key_E)
            page.leader.tick()

    def night(self) -> None:
        """Until the next evening."""
        self.now = self.now.replace(hour=18, minute=0, second=0) + timedelta(days=1)
        self.pupil.sleep()


@pytest.fixture
def evening(qtbot, window) -> Iterator[Evening]:
    piece = make_piece(CHORDS, tempo=80)
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("The class's piece", replace(piece, title="Harbour evening"))
    yield Evening(qtbot, window)
    window.transport.stop()


def test_a_week_finds_the_weak_change_and_drills_it(qtbot, window, evening: Evening) -> None:
    """Seven evenings of 25 minutes. The plan is not told which change is weak."""
    for _ in range(7):
        evening.session(25)
        evening.night()
    name = " > ".join(WEAK)
    first = next(day for day, seen in enumerate(evening.drilled) if name in seen)
    assert first <= 2, "found from slips within two evenings"
    assert sum(name in seen for seen in evening.drilled[first:]) >= 2
    record = window.logbook.record
    steps = [a for a in record.attempts if a.change == name and "steps" in a.stage]
    assert steps, "in steps before it is in time"
    assert evening.rests >= 7
    qtbot.waitUntil(lambda: [s.ended_by for s in window.logbook.record.sessions] == ["done"] * 7)

    stage = evening.page.plan.stage(f"Verse · change-{WEAK[0]}-{WEAK[1]}")
    moved = climbs(stage, current(stage, record.attempts))
    assert "ladder-up" in moved and "ladder-back" in moved, "it climbs and steps back"
    best = [a.tempo for a in record.attempts if a.stage == stage.id and a.clean]
    assert max(best) > min(best)

    window.actions_by_id["record"].trigger()
    log = window.pages.record
    qtbot.waitUntil(lambda: bool(log.view.tempo.lines))
    assert sum(day.total > 0 for day in log.view.days.days) == 7
    assert log.view.wrong.wrong, "the bars that went wrong"
    log.view.report.click()
    sheet = window.pages.sheet
    qtbot.waitUntil(lambda: bool(sheet.view.canvas.pages))
    qtbot.waitUntil(lambda: "Am to G/B:" in said(sheet.view.canvas.pages))


def climbs(stage, attempts) -> set[str]:
    """What has moved the ladder over the week."""
    return {
        ladder(stage, attempts[:count], attempts[count - 1].day).why.code
        for count in range(1, len(attempts) + 1)
    }


def said(pages) -> str:
    return " ".join(op.text for page in pages for op in page.ops if hasattr(op, "text"))
