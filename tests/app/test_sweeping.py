"""Python's collector waits until the player rests; a notice moves nothing."""

import gc
from collections.abc import Iterator
from typing import cast

import pytest
from PySide6.QtCore import QObject, Signal

from gingham.app.shell import sweeping
from gingham.app.shell.sweeping import Sweeper
from gingham.app.shell.window import MainWindow
from gingham.app.sound.transport import Transport


class _Work(QObject):
    done = Signal()


class _Still:
    """A transport of which only `playing` is asked."""

    playing = False


@pytest.fixture
def swept(qtbot, monkeypatch: pytest.MonkeyPatch) -> Iterator[tuple[Sweeper, _Work, _Still, list[int]]]:
    """A sweeper, what it listens to, and the generations that were collected."""
    collected: list[int] = []
    monkeypatch.setattr(gc, "collect", lambda generation=2: collected.append(generation))
    monkeypatch.setattr(gc, "freeze", lambda: collected.append(9))
    monkeypatch.setattr(sweeping, "_REST_MS", 1)
    work, still = _Work(), _Still()
    sweeper = Sweeper(work.done, cast(Transport, still), work)
    yield sweeper, work, still, collected
    sweeper.close()
    assert gc.isenabled()


def test_all_is_swept_at_rest_and_what_stands_is_set_aside_once(qtbot, swept) -> None:
    sweeper, work, _still, collected = swept
    assert not gc.isenabled() and not collected
    work.done.emit()
    qtbot.waitUntil(lambda: collected == [2, 9])
    sweeper.sweep()
    assert collected == [2, 9, 2]


def test_while_something_plays_only_the_young_is_swept(swept) -> None:
    sweeper, _work, still, collected = swept
    still.playing = True
    sweeper.sweep()
    assert collected == [0]


def test_work_without_rest_does_not_fill_the_memory(qtbot, swept, monkeypatch: pytest.MonkeyPatch) -> None:
    _sweeper, _work, _still, collected = swept
    monkeypatch.setattr(gc, "get_count", lambda: (500_000, 0, 0))
    qtbot.waitUntil(lambda: collected[:1] == [1])


def test_a_notice_moves_nothing(qtbot, window: MainWindow) -> None:
    window.show()
    qtbot.waitExposed(window)
    before = [each.geometry() for each in (window.view, window.view.result, window.statusBar())]
    window.notify("Something worth knowing.")
    window.standing.say("A word that stays.")
    qtbot.wait(20)
    assert [each.geometry() for each in (window.view, window.view.result, window.statusBar())] == before
