"""What a screen reader is told: every page's tree walked in a process of its own, which must end well."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

_SETUP = """
import os, pathlib, sys, tempfile
from PySide6.QtCore import QEventLoop, Qt, QTimer
from PySide6.QtGui import QAccessible
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog
app = QApplication([])
from gingham.app.look import theme
from gingham.app.look.settings import Settings
from gingham.app.shell.start import fill
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.transport import Transport
from gingham.app.widgets import speaking
theme.load_fonts()
speaking.let_canvases_speak()
QAccessible.setActive(True)
said = []
post = QAccessible.updateAccessibility
speaking.QAccessible.updateAccessibility = staticmethod(lambda event: (said.append(event.message()), post(event)))
w = MainWindow(Settings(pathlib.Path(tempfile.mkdtemp()) / "s.ini"), Transport(output=SilentOutput()))
fill(w, [], demo=DEMO)
w.resize(1280, 800)
w.show()

def wait(until):
    for _ in range(6000):
        if until():
            return
        loop = QEventLoop(); QTimer.singleShot(10, loop.quit); loop.exec()
    raise AssertionError("nothing came")

"""

_WALK = """
NAMED = {QAccessible.Role.PushButton, QAccessible.Role.ComboBox, QAccessible.Role.EditableText,
         QAccessible.Role.CheckBox, QAccessible.Role.SpinBox, QAccessible.Role.List, QAccessible.Role.Table}
nameless, cells = [], {}

def walk(interface, depth=0):
    if interface is None or not interface.isValid() or depth > 40:
        return
    of = interface.object()
    if of is not None and not (of.isWidgetType() and of.isVisible()) and of.isWidgetType():
        return
    name = interface.text(QAccessible.Text.Name)
    if interface.role() in NAMED and not name and of is not None and not of.objectName().startswith("qt_"):
        nameless.append((type(of).__name__, of.objectName()))
    if isinstance(of, speaking.Speaking):
        found = [interface.child(i) for i in range(interface.childCount())]
        cells[type(of).__name__] = [each.text(QAccessible.Text.Name) for each in found]
        assert all(each.rect().isValid() and each.parent() is not None for each in found)
        assert [interface.indexOfChild(each) for each in found] == list(range(len(found)))
        return
    for index in range(interface.childCount()):
        walk(interface.child(index), depth + 1)

wait(lambda: w.shown.verdict is not None and w.build.mapping.mapper.map is not None)
w.shown.select_span(1)
w.view.result.setFocus()
QTest.keyClick(w.view.result, Qt.Key.Key_Right)
for part in ("why", "shapes", "change", "capo", "tune", "setup", "conflicts"):
    w.view.drawer.open(part)
    if part == "capo":
        wait(lambda: w.drawers.capo.places.places)
    walk(QAccessible.queryAccessibleInterface(w))
for place in ("bench", "form", "practise", "sheet", "reading", "help"):
    w.pages.go(place)
    if place == "bench":
        wait(lambda: not w.pages.bench.library.progress.isVisible())
    if place == "sheet":
        wait(lambda: w.pages.sheet.view.canvas.pages)
    app.processEvents()
    walk(QAccessible.queryAccessibleInterface(w))
print("NAMELESS", sorted(set(nameless)))
for kind, texts in sorted(cells.items()):
    print(kind, len(texts), "|", texts[0] if texts else "", "|", texts[1] if len(texts) > 1 else "")
print("SAID", [each for each in said if "bar 2 at" in each][-1])
for document in w.documents:
    document.stack.setClean()
w.close()
app.processEvents()
"""


_WAY = """
told = []
speaking.QAccessible.updateAccessibility = staticmethod(lambda event: (told.append(event.message()), post(event)))

def pause(ms):
    loop = QEventLoop(); QTimer.singleShot(ms, loop.quit); loop.exec()

def focused(_old, new):
    of = QAccessible.queryAccessibleInterface(new) if new is not None else None
    if of is not None:
        told.append(f"[{of.text(QAccessible.Text.Name)}] {of.text(QAccessible.Text.Description)}")

def key(name, mod=Qt.KeyboardModifier.NoModifier):
    QTest.keyClick(app.focusWidget() or w, getattr(Qt.Key, f"Key_{name}"), mod)
    pause(60)

def heard(words):
    wait(lambda: any(words in each for each in told))

C = Qt.KeyboardModifier.ControlModifier
out = pathlib.Path(tempfile.mkdtemp())
QFileDialog.getSaveFileName = staticmethod(lambda *_a, **_k: (str(out / "lanterns.pdf"), ""))
app.focusChanged.connect(focused)
wait(lambda: w.view.chords.hasFocus())
QTest.keyClicks(app.focusWidget(), "| Am | F | C | G |")
key("Return")
wait(lambda: w.shown.result is not None and len(w.shown.result.bars) == 4)
heard("4 bars: Am, F, C, G")
key("3", C); key("Right"); key("Right"); heard("bar 1 at 2: thumb"); key("Down"); heard("string 2: nothing")
key("4", C); key("Right"); key("A"); heard("index, ring")
key("Z", C); heard("undone")
key("Exclam"); heard("accented")
key("1", C); key("Right"); heard("F, 4 beats"); key("2", C); heard("first bass: string 4")
key("Right"); heard("string 3, A 3rd"); key("Down"); heard("Enter takes it")
key("Return"); heard("second bass: string 4, F root")
key("3", C); key("BracketLeft", C); heard("76 beats"); key("F11")
wait(lambda: w.pages.sheet is not None and w.pages.sheet.view.canvas.pages)
key("F12"); QTest.keyClicks(app.focusWidget(), "save sheet"); key("Return")
wait(lambda: (out / "lanterns.pdf").exists())
heard("Written")
for words in told:
    print("TOLD", words)
for document in w.documents:
    document.stack.setClean()
w.close()
app.processEvents()
"""


def run(script: str, folder: Path, *, demo: bool) -> str:
    """What a script prints in a process of its own, which must end well."""
    env = {
        **os.environ, "QT_QPA_PLATFORM": "offscreen", "XDG_DATA_HOME": str(folder), "XDG_CONFIG_HOME": str(folder),
    }  # fmt: skip
    done = subprocess.run(
        [sys.executable, "-c", f"DEMO = {demo}\n{_SETUP}{script}"],
        capture_output=True,
        text=True,
        env=env,
        check=False,
        cwd=Path(folder),
    )
    assert done.returncode == 0, done.stderr[-3000:]
    return done.stdout


@pytest.fixture(scope="module")
def told(tmp_path_factory) -> str:
    """What the walk over all pages printed."""
    return run(_WALK, tmp_path_factory.mktemp("home"), demo=True)


def line(told: str, kind: str) -> str:
    """The line about one kind of canvas."""
    return next(each for each in told.splitlines() if each.startswith(f"{kind} "))


def test_every_control_on_every_page_has_a_name(told: str) -> None:
    """Buttons, boxes, lines, lists and tables, in the drawer too."""
    assert line(told, "NAMELESS") == "NAMELESS []"


@pytest.mark.parametrize(
    ("kind", "words"),
    [
        (
            "ResultCanvas",
            "G, bar 1 at 1: thumb on string 6 fret 3 (fret 5 on the neck), middle on string 2 open",
        ),
        ("PatternCanvas", "bar 1 at 1: thumb, middle"),
        ("CardStrip", "G, sounds A, 4 beats, thumb 6 then 4"),
        ("StringsCanvas", "first bass: string 5"),
        ("MapCanvas", "Verse, bar 1 of 8"),
        ("ShapeGrid", "x02010, held now"),
        ("PlacesCanvas", "effort"),
        ("WallCanvas", "up to"),
        ("StripCanvas", "Verse, 8 bars, turn 1 of 4"),
        ("NeckCanvas", "string 6: silent"),
        ("WindowsCanvas", "finger"),
        ("FollowCanvas", "G, bar 1 at 1: thumb on string 6 fret 3"),
        ("LargeCanvas", "bar 1 at 1: thumb on string"),
        ("PagesCanvas", "page 1 of"),
    ],
)
def test_canvases_tell_their_cells(told: str, kind: str, words: str) -> None:
    """What, where, and how it stands, in reading order."""
    assert words in line(told, kind), line(told, kind)


def test_the_cursor_is_announced_where_it_goes(told: str) -> None:
    """The place with what is plucked there."""
    assert "Am7, bar 2 at 1&" in line(told, "SAID")


def test_the_whole_way_to_a_printed_sheet_goes_by_what_is_told(tmp_path: Path) -> None:
    """From an empty start, by keys alone: where the keyboard is, what stands there, what an edit did."""
    said = [each[5:] for each in run(_WAY, tmp_path, demo=False).splitlines() if each.startswith("TOLD ")]
    wanted = (
        "4 bars: Am, F, C, G. Ctrl+3 goes to the picture",
        "[What you play: strings over beats]",
        "Am, bar 1 at 2: thumb on string 4 fret 2",
        "string 2: nothing here",
        "[Pattern: fingers over beats]",
        "bar 1 at 2&: index",
        "bar 1 at 2&: index, ring",
        "undone: Ring",
        "index accented",
        "[Chords with their shapes] Am, 4 beats, thumb 5 then 4",
        "F, 4 beats · barre, thumb 4 then 3",
        "[Strings for this chord: a column for each bass and finger] first bass: string 4, F root",
        "second bass: string 3, A 3rd",
        "string 4: F root, Enter takes it",
        "second bass: string 4, F root",
        "76 beats a minute",
        "[Pages of the sheet]",
        "[Find an action]",
        "Written to",
    )
    place = 0
    for words in wanted:
        found = next((i for i in range(place, len(said)) if words in said[i]), None)
        assert found is not None, (words, said[place:])
        place = found
