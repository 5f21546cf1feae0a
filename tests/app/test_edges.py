"""Edges of the window: what is just still there, told once, remembered to the last."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtWidgets import QTabWidget, QWidget

from gingham.core.fitting.fit import fit
from gingham.core.formats.piece_file import save_piece
from gingham.core.pieces.edits import add_section, set_tempo
from gingham.core.sound.timeline import timeline
from tests.conftest import make_piece, play


@pytest.mark.parametrize(
    ("bars", "left", "kept"), [((3, 4), 3, True), ((3, 4), 2, False), ((4, 4), 3, False)]
)
def test_a_loop_is_let_go_when_the_piece_ends_before_it(qtbot, window, bars, left: int, kept: bool) -> None:
    """While it plays: what is left of the loop goes on, or the whole piece."""
    window.playing.set_bars(bars)
    play(qtbot, window)
    line = " | ".join(["G"] * left)
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Shorter", make_piece(f"| {line} |", meter=window.document.piece.meter))
    assert (window.playing.bars == bars) is kept and (window.playing.bars is None) is not kept
    heard = {3} if kept else set(range(1, left + 1))
    qtbot.waitUntil(lambda: {place.bar for place in window.transport._line.places} == heard)


def test_a_change_outside_is_told_once(qtbot, window, tmp_path: Path) -> None:
    """However often it is looked for; the next one is told again, and so is a file that is gone."""
    path, told, gone = tmp_path / "lantern.gingham", [], []
    save_piece(make_piece("| G |", tempo=80), path)
    window.files.open_file(path)
    document, watcher = window.document, window.files.watcher
    document.edit("Tempo", set_tempo(document.piece, 60))
    watcher.changed.connect(told.append)
    watcher.deleted.connect(gone.append)
    for tempo, count in ((120, 1), (130, 2)):
        save_piece(make_piece("| G |", tempo=tempo), path)
        for _ in range(3):
            watcher.look()
        assert told == [document] * count
    path.unlink()
    for _ in range(3):
        watcher.look()
    assert gone == [document] and told == [document] * 2


def test_a_result_of_another_section_is_not_shown(qtbot, window) -> None:
    """It comes late, when another section has been chosen."""
    piece = add_section(window.document.piece, 0)
    window.document.edit("Section", piece)
    window.shown.select_section(1)
    qtbot.waitUntil(lambda: window.shown.result.piece is piece and window.shown.result.section == 1)
    late = fit(piece, 0)
    shown = window.shown.result
    window.shown.take_result(late)
    assert window.shown.result is shown and window.shown.result.section == 1


@pytest.mark.parametrize(("up", "by"), [(0, 0), (5, 5), (6, 6), (7, -5), (11, -1)])
def test_another_key_is_reached_by_the_shortest_way(qtbot, window, up: int, by: int) -> None:
    """Six semitones are reached upward."""
    window.actions_by_id["moves"].trigger()
    moves = window.drawers.capo
    moves._go_to_key(up)
    assert moves.semitones.value() == by
    qtbot.waitUntil(lambda: bool(moves.places.places))


def test_tones_to_tune_by_leave_the_cues_of_the_piece(qtbot, window) -> None:
    """Tones sound alone; the next play calls its changes again."""
    transport = window.transport
    transport.set_cues(True)
    transport.play_tones(timeline([fit(window.document.piece)]), window.document.piece, 80)
    assert not transport._stream._player.cues and transport.options.cues
    transport.stop()
    play(qtbot, window)
    assert transport._stream._player.cues


def test_the_last_ten_files_are_remembered(window, tmp_path: Path) -> None:
    """The eleventh pushes the first out."""
    paths = [tmp_path / f"lantern-{number}.gingham" for number in range(11)]
    for path in paths:
        save_piece(make_piece("| G |"), path)
        window.files.recent.add(path)
    assert window.files.recent.paths() == paths[:0:-1]


@pytest.mark.parametrize("on", [True, False])
def test_a_place_is_made_as_the_player_sees_shapes(window, on: bool) -> None:
    """Mirrored already when it is first shown."""
    window.actions_by_id["mirror"].setChecked(on)
    window.actions_by_id["practise"].trigger()
    assert window.pages.practise.view.follow.appearance.mirrored is on


def tab_stops(window, page) -> list[QWidget]:
    """What the Tab key goes through on a page, in order."""
    out, each = [], window.nextInFocusChain()
    while each is not window:
        if each.isVisible() and each.isEnabled() and each.focusPolicy() & Qt.FocusPolicy.TabFocus:
            out += [each] if page.isAncestorOf(each) else []
        each = each.nextInFocusChain()
    return out


def box_of(window, widget) -> QRect:
    """Where a widget lies in the window."""
    return QRect(widget.mapTo(window, QPoint(0, 0)), widget.size())


@pytest.mark.parametrize("page", ["build", "bench", "form", "practise", "sheet", "reading", "help"])
def test_the_tab_key_goes_in_reading_order(window, page: str) -> None:
    """Along a row to the right, from one row to a lower one; a column of its own begins anew at its top."""
    window.pages.go_build() if page == "build" else window.pages.go(page)
    shown = window.pages.stack.currentWidget()
    parts = shown.findChildren(QTabWidget)[:1]
    for index in range(parts[0].count() if parts and page in ("bench", "form") else 1):
        if parts and page in ("bench", "form"):
            parts[0].setCurrentIndex(index)
        stops = tab_stops(window, shown)
        assert len(stops) >= 3
        for one, other in pairwise(stops):
            a, b = box_of(window, one), box_of(window, other)
            beside = min(a.bottom(), b.bottom()) - max(a.top(), b.top()) > min(a.height(), b.height()) / 2
            names = (page, index, one.accessibleName(), other.accessibleName())
            assert b.left() >= a.left() if beside else b.top() >= a.top() or b.left() > a.left(), names
