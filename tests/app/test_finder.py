"""Finding an action by words, its own or others; no key that a desktop takes; what is called what."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from gingham.app.shell.actions import ACTIONS, LINES_BEFORE
from gingham.core.music.meter import parse_meter
from gingham.words.finding import find
from gingham.words.names import places_name

Key = Qt.Key
WORDS = {action.id: f"{action.text} {action.tip} {action.id}" for action in ACTIONS}


@pytest.mark.parametrize(
    ("query", "first"),
    [
        ("print", "print"),
        ("loop change", "loop-change"),
        ("paste chart", "chart"),
        ("transpose", "moves"),  # a word that Gingham has not
        ("dark", "night"),
        ("metronome", "click"),
        ("zomm", None),  # nothing like it
        ("practice", "practice-form"),
        ("sheat", "sheet"),  # misspelt
        ("tunng", "tune"),
    ],
)
def test_an_action_is_found(query: str, first: str | None) -> None:
    """By its own words, by those of other people, by a misspelt word."""
    found = find(query, WORDS)
    assert (first in found[:3]) if first else found == []


def test_the_finder_runs_what_is_chosen(qtbot, window) -> None:
    """F12, two words, Enter; Escape gives the keyboard back; what cannot be done now is not listed."""
    window.activateWindow()
    qtbot.waitUntil(lambda: QApplication.activeWindow() is window)
    window.view.result.setFocus()
    QTest.keyClick(window.view.result, Key.Key_F12)
    finder = window.finder
    assert finder.isVisible() and finder.line.hasFocus()
    names = [finder.rows.item(row).data(Qt.ItemDataRole.UserRole) for row in range(finder.rows.count())]
    assert "undo" not in names and "stop-export" not in names and "play" in names
    QTest.keyClick(finder.line, Key.Key_Escape)
    assert not finder.isVisible() and window.view.result.hasFocus()
    QTest.keyClick(window.view.result, Key.Key_F12)
    QTest.keyClicks(finder.line, "left-handed")
    QTest.keyClick(finder.line, Key.Key_Return)
    assert window.appearance.mirrored and not finder.isVisible()
    QTest.keyClick(window.view.result, Key.Key_F12)
    QTest.keyClicks(finder.line, "qqqq")
    assert "Nothing is called that" in finder.rows.item(0).text()
    QTest.keyClick(finder.line, Key.Key_Return)
    assert finder.isVisible()
    QTest.keyClick(finder.line, Key.Key_Escape)


def test_no_key_that_a_desktop_takes(window) -> None:
    """None with Ctrl and Alt together; every action without a key is found by its words."""
    keys = {action.id: action.key for action in ACTIONS}
    assert not [name for name, key in keys.items() if "Ctrl+Alt" in key or "Meta" in key]
    for name, key in keys.items():
        if not key:
            assert name in find(WORDS[name].split(" (")[0].split("…")[0], WORDS)
    assert set(keys) >= LINES_BEFORE


@pytest.mark.parametrize(
    ("meter", "count", "name"),
    [
        ("4/4", 1, "quarters"), ("4/4", 2, "eighths (1 &)"), ("3/4", 3, "triplets (1 trip let)"),
        ("4/4", 4, "sixteenths (1 e & a)"), ("4/4", 6, "6 to a beat"), ("6/8", 3, "eighths"),
        ("6/8", 6, "sixteenths"), ("6/8", 1, "dotted quarters"), ("2/2", 2, "quarters"), ("2/2", 4, "eighths"),
    ],
)  # fmt: skip
def test_places_have_the_names_of_notes(meter: str, count: int, name: str) -> None:
    """What a beat holds, by the beat that the tempo counts."""
    assert places_name(count, parse_meter(meter)) == name
