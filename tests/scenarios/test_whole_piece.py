"""A lantern evening is prepared: from a pasted chart to a sheet on the stand and a file for a friend."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

from pypdf import PdfReader
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from gingham.core.finding.part import sounded
from gingham.core.finding.sections import heard
from gingham.core.fitting.performance import perform
from gingham.core.formats.piece_file import load_piece
from gingham.core.pieces.form import print_turns

CHART = """Low Water
[Verse]
G          Em7
Low is the water,
C          D
high is the wall

[Refrain]
| G | C D | G | % |
Hang out a lantern for all
"""


def key(window, name: str) -> None:
    """What its key does."""
    window.actions_by_id[name].trigger()


def _paste_a_chart(qtbot, window):
    """The chart becomes a piece; the window that read it."""
    key(window, "chart")
    reading = window.pages.reading
    qtbot.addWidget(reading)
    reading.text.setPlainText(CHART)
    reading.read_chart()
    with qtbot.waitSignal(window.shown.settled):
        reading.take_chart()
    assert [s.name for s in window.document.piece.sections] == ["Verse", "Refrain"]
    return reading


def _order_the_form(qtbot, window) -> None:
    """The order is typed, the piece ends with a roll."""
    key(window, "form")
    form = window.pages.form
    qtbot.addWidget(form)
    form.orders[False].setFocus()
    QTest.keyClicks(form.orders[False], "Verse, Refrain, Verse, Refrain x2")
    form.endings[False].setCurrentIndex(form.endings[False].findData("roll"))
    form.endings[False].activated.emit(0)
    qtbot.waitUntil(lambda: "21 bars" in form.sums.text())


def _give_the_last_bar_its_own(qtbot, window):
    """Plucks of its own in the last bar of the verse; undo and redo go over all of it. The piece as it is then."""
    build = window.build
    build.set_column(build.axis.column_before(4, Fraction(0)))
    with qtbot.waitSignal(build.shown.settled):
        key(window, "own-bar")
    with qtbot.waitSignal(build.shown.settled):
        build.gestures.rest(build.axis.column_before(4, Fraction(7, 8)))
    made = window.document.piece
    steps = window.document.stack.count()
    for _ in range(steps):
        window.document.stack.undo()
    for _ in range(steps):
        window.document.stack.redo()
    assert window.document.piece == made
    return made


def _hear_both_forms(qtbot, window) -> None:
    """Counted in, by keys alone."""
    window.transport.set_count_in("")
    key(window, "play")
    qtbot.waitUntil(lambda: window.transport.playing)
    key(window, "practice-form")
    key(window, "play")
    qtbot.waitUntil(lambda: not window.transport.playing)


def _write_the_sheet(qtbot, window, out: Path, monkeypatch) -> None:
    """It goes into a file, large, with its words."""
    key(window, "sheet")
    sheet = window.pages.sheet
    qtbot.waitUntil(lambda: bool(sheet.view.canvas.pages))
    with qtbot.waitSignal(sheet.laid_out):
        sheet.view.switches["large"].click()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(out), ""))
    with qtbot.waitSignal(window.files.exporter.done):
        key(window, "save-sheet")
    words = " ".join(PdfReader(out).pages[0].extract_text().split())
    assert "Low Water" in words and "Verse · Refrain · Verse · Refrain ×2 · slow roll" in words


def _save_and_send(qtbot, window, reading, folder: Path, monkeypatch):
    """It is saved, and sent to a friend as MusicXML; what comes back."""
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(folder / "low-water"), ""))
    key(window, "save")
    assert load_piece(folder / "low-water.gingham") == window.document.piece
    with qtbot.waitSignal(window.files.exporter.done):
        window.files.export_to(folder / "low-water.musicxml")
    window.files.open_file(folder / "low-water.musicxml")
    qtbot.waitUntil(lambda: reading.read is not None)
    with qtbot.waitSignal(window.shown.settled):
        reading.take_part()
    return window.document.piece


def test_from_a_chart_to_the_music_stand(qtbot, window, tmp_path: Path, monkeypatch) -> None:
    """Paste, order, a fill, an ending, words; hear both forms; print, save, send, and read what came back."""
    reading = _paste_a_chart(qtbot, window)
    _order_the_form(qtbot, window)
    made = _give_the_last_bar_its_own(qtbot, window)
    _hear_both_forms(qtbot, window)
    _write_the_sheet(qtbot, window, tmp_path / "low-water.pdf", monkeypatch)
    back = _save_and_send(qtbot, window, reading, tmp_path, monkeypatch)
    assert print_turns(back.performance.turns) == "Verse, Refrain, Verse, Refrain x2"
    assert back.performance.ending == "roll"
    one, other = perform(made), perform(back)
    assert one.times == other.times and one.length == other.length
    for mine, theirs in zip(one.results, other.results, strict=True):
        for a, b in zip(mine.bars, theirs.bars, strict=True):
            assert heard(sounded(a)) == heard(sounded(b))


def test_everything_new_is_reached_with_keys(qtbot, window) -> None:
    """F5, F11, Ctrl+P and the others are in the menus with their keys."""
    wanted = {
        "form": "F5", "sheet": "F11", "print": "Ctrl+P", "chart": "", "read": "",
        "own-bar": "", "chord-version": "", "practice-form": "",
        "save-sheet": "", "find": "F12", "help": "F1", "reload": "Ctrl+Shift+O",
    }  # fmt: skip
    assert {name: window.actions_by_id[name].shortcut().toString() for name in wanted} == wanted
    QTest.keyClick(window, Qt.Key.Key_F11)
    assert window.pages.current == "sheet"
    QTest.keyClick(window, Qt.Key.Key_F10)
    assert window.pages.current == "practise"
    QTest.keyClick(window, Qt.Key.Key_F10)
    assert window.pages.current == "build"
