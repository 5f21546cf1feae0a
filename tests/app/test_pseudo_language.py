"""The window in the machine-made language: every page and part walked, nothing left in English, nothing cut."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys

import pytest
from scripts import translations

from gingham.core.patterns.library import builtin
from gingham.data import FOLDER
from tests.app.test_speaking import _SETUP

_PAGES = """
from PySide6.QtWidgets import (
    QAbstractButton, QAbstractItemView, QAbstractSpinBox, QCheckBox, QComboBox, QLabel, QLineEdit, QMenu,
    QPlainTextEdit, QScrollBar, QTabBar, QTabWidget, QTextBrowser, QToolButton, QWidget,
)
from gingham.app.shell.places import PLACES
from gingham.app.widgets.choice import Choice
SIZE = (1024, 700)
w.resize(*SIZE)
where, texts, cuts = "menus", {}, set()

def note(words):
    if words and words.strip():
        texts.setdefault(words, where)

def hear(interface, depth=0):
    if interface is None or not interface.isValid() or depth > 40:
        return
    of = interface.object()
    if of is not None and of.isWidgetType() and not of.isVisible():
        return
    for what in (QAccessible.Text.Name, QAccessible.Text.Description, QAccessible.Text.Help):
        note(interface.text(what))
    if isinstance(of, QWidget):
        note(of.toolTip())
    if isinstance(of, QLineEdit | QPlainTextEdit):
        note(of.placeholderText())
    if isinstance(of, QComboBox):
        [note(of.itemText(index)) for index in range(of.count())]
    if isinstance(of, QAbstractSpinBox):
        note(of.text())
    if isinstance(of, QTextBrowser):
        note(of.toPlainText())
    for index in range(interface.childCount()):
        hear(interface.child(index), depth + 1)

def needed(part):
    if isinstance(part, QAbstractButton):
        lines = part.text().replace("&", "").splitlines()
        return max(map(part.fontMetrics().horizontalAdvance, lines)) + 20 * isinstance(part, QCheckBox)
    return part.sizeHint().width()

def is_cut(part):
    if type(part) is QLabel and part.text():
        low = part.wordWrap() and part.height() < part.heightForWidth(part.width())
        if low or not part.wordWrap() and part.width() < needed(part):
            return True
    if isinstance(part, QAbstractButton) and part.text() and part.width() < needed(part):
        return True
    if isinstance(part, QTabBar):
        return any(part.tabRect(i).right() > part.width() for i in range(part.count()) if part.isTabVisible(i))
    if isinstance(part, QScrollBar):
        lists = isinstance(part.parentWidget().parentWidget(), QAbstractItemView)
        return part.orientation() == Qt.Orientation.Horizontal and part.maximum() > 0 and not lists
    if isinstance(part, QComboBox) and not isinstance(part, Choice):
        return True
    whole = isinstance(part, QLabel | QAbstractButton | QComboBox | QLineEdit) and type(part) is not QToolButton
    return whole and part.visibleRegion().boundingRect().width() < part.width()  # a side of it is out of sight

def look(name):
    global where
    where = name
    for _ in range(3):
        app.processEvents()
    hear(QAccessible.queryAccessibleInterface(w))
    if (w.width(), w.height()) != SIZE or w.centralWidget().currentWidget().widthMM() == 0:
        cuts.add(f"{name}: the window is {w.width()} x {w.height()}")
    for part in w.findChildren(QWidget):
        if part.isVisible() and not part.visibleRegion().isEmpty() and is_cut(part):
            cuts.add(f"{name}: {type(part).__name__} {getattr(part, 'text', part.accessibleName)()}")

def tabs_of(page):
    return [each for each in w.findChildren(QTabWidget) if each.isVisible()]

wait(lambda: w.shown.verdict is not None and w.build.mapping.mapper.map is not None)
for action in w.actions_by_id.values():
    note(action.text()), note(action.toolTip()), note(action.statusTip())
for menu in w.menuBar().findChildren(QMenu):
    note(menu.title())
w.shown.select_span(1)
for part in ("why", "shapes", "change", "capo", "tune", "setup", "hand", "versions", "conflicts"):
    w.view.drawer.open(part)
    if part == "capo":
        wait(lambda: w.drawers.capo.places.places)
    look(part)
for place in PLACES:
    w.pages.go(place.id)
    if place.id == "bench":
        wait(lambda: not w.pages.bench.library.progress.isVisible())
    if place.id == "form":
        wait(lambda: w.pages.form.sums.text())
    if place.id == "sheet":
        wait(lambda: w.pages.sheet.view.canvas.pages)
    look(place.id)
    for tabs in tabs_of(place):
        for index in range(tabs.count()):
            tabs.setCurrentIndex(index)
            look(f"{place.id}, tab {index}")
import json
print("FOUND", json.dumps({"texts": texts, "cuts": sorted(cuts)}))
for document in w.documents:
    document.stack.setClean()
w.close()
app.processEvents()
"""


@pytest.fixture(scope="module")
def seen(tmp_path_factory) -> dict:
    """What the walk found: every text with its place, and what is cut."""
    home = tmp_path_factory.mktemp("home")
    translations.compile_into(translations.pseudo(), home / "gingham" / "locale", translations.PSEUDO)
    script = (
        "DEMO = True\nfrom gingham.language import speak\nspeak()\n"
        + _SETUP.replace("QApplication([])", "QApplication(['x', '-style', 'Fusion'])").replace(
            "theme.load_fonts()", "theme.load_fonts(); theme.apply(theme.LINEN, app)"
        )
        + _PAGES
    )
    env = {
        **os.environ, "QT_QPA_PLATFORM": "offscreen", "XDG_DATA_HOME": str(home), "XDG_CONFIG_HOME": str(home),
        "LANGUAGE": translations.PSEUDO,
    }  # fmt: skip
    done = subprocess.run(
        [sys.executable, "-c", script], capture_output=True, text=True, env=env, check=False, cwd=home
    )
    assert done.returncode == 0, done.stderr[-3000:]
    line = next(each for each in done.stdout.splitlines() if each.startswith("FOUND "))
    return json.loads(line.removeprefix("FOUND "))


def known_names() -> re.Pattern[str]:
    """What is the same in every language: names of pieces, sections and patterns, chords, keys, what is typed."""
    names = {"My way", "Gingham", "Letter", *dict(builtin())}
    words: set[str] = set()
    for file in (FOLDER / "demo").glob("*.gingham"):
        piece = json.loads(file.read_text(encoding="utf-8"))
        names |= {piece["title"], *(each["name"] for each in (*piece["sections"], *piece["patterns"]))}
        for sung in (piece, *piece["sections"]):
            told = [sung.get("notes", ""), *sung.get("words", [])]
            words |= set(re.findall(r"[A-Za-z’']+", " ".join(map(str, told))))
    spelled = "|".join(re.escape(name) for name in sorted(names - {""}, key=len, reverse=True))
    sung = "|".join(sorted(words, key=len, reverse=True))
    keys = r"Ctrl|Alt|Shift|Return|Delete|Backspace|PgDown|PgUp|Home|Tab|Up|Down|Left|Right|Space|F\d+"
    chord = r"[A-G][♯♭#b]?(?:m|maj|sus|add|dim|aug)*\d*(?:\([a-z]+\d\))?(?:/[A-G][♯♭]?)?"
    said = r"pinch|thumb|index|middle|ring|inside|outside"
    return re.compile(
        rf"{spelled}|\b(?:{sung}|{keys}|{said}|[x\d]{{4,}}|ii\d)\b|\b{chord}(?![A-Za-z])|\b[a-z]\b"
    )


def test_nothing_in_the_window_is_left_in_english(seen: dict) -> None:
    """Names, descriptions, tips, choices, menus, the help and the sheet, on every page and part of the drawer."""
    known = known_names()
    left = {
        words: place
        for words, place in seen["texts"].items()
        if re.search(r"[A-Za-z]{2,}", known.sub("", re.sub(r"<[^<>]*>|`[^`]*`|\{[^{}]*\}", "", words)))
    }
    assert len(seen["texts"]) > 1000
    assert left == {}


def test_nothing_in_the_window_is_cut_in_long_words(seen: dict) -> None:
    """At 1024 x 700, two fifths longer than English: labels, buttons, tabs; boxes end in … and tell the rest."""
    assert seen["cuts"] == []
