"""Finding an action by words, its own or others; no key that a desktop takes; what is called what."""

from __future__ import annotations

import re

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from gingham.app.shell.actions import ACTIONS, LINES_BEFORE
from gingham.core.music.meter import parse_meter
from gingham.words.chapters import CHAPTER_OF, FIRST, chapters, search
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


@pytest.mark.parametrize("part", ["map", "tempo", "drawer", "line"])
def test_space_plays_wherever_it_types_nothing(qtbot, window, part: str) -> None:
    """In the map, the tempo, the drawer's tabs, and in a line that is chosen whole, which stays as it is."""
    window.activateWindow()
    qtbot.waitUntil(lambda: QApplication.activeWindow() is window)
    bar = window.view.bar
    parts = {
        "map": window.view.map,
        "tempo": bar.tempo,
        "drawer": window.view.drawer.tabs,
        "line": window.view.chords,
    }
    before, focused = window.view.chords.text(), parts[part]
    focused.setFocus()
    if part == "line":
        focused.selectAll()
    QTest.keyClick(focused, Key.Key_Space)
    qtbot.waitUntil(lambda: window.transport.playing)
    assert window.view.chords.text() == before and window.document.stack.count() == 0
    window.playing.stop()


def test_the_buttons_of_build_open_what_they_say(window) -> None:
    """Set-up opens in the drawer, All patterns shows its page; Ctrl+M goes to the tempo of what plays here."""
    window.view.setup_button.click()
    assert window.view.drawer.current == "setup" and window.view.setup.isVisible()
    window.view.bench_button.click()
    assert window.pages.current == "bench"
    window.pages.go("practise")
    window.actions_by_id["go-tempo"].trigger()
    assert window.pages.current == "practise"
    window.pages.go("sheet")
    window.actions_by_id["go-tempo"].trigger()
    assert window.pages.current == "build"


def test_the_last_page_comes_back_but_not_over_a_part_that_is_read(window, settings) -> None:
    """The sheet was left; a start shows it, unless a file is being read."""
    settings.set_text("page", "sheet")
    window.pages.show_last()
    assert window.pages.current == "sheet"
    window.pages.show_chart()
    window.pages.show_last()
    assert window.pages.current == "reading"


QUESTIONS = [
    ("begin", "Type chords into the line"),
    ("hear it", "Ctrl+Space plays"),
    ("another pattern", "F3 shows all patterns"),
    ("slower", "takes four beats a minute off"),
    ("print", "Ctrl+P prints the sheet"),
    ("hollow", "that this pattern never plucks"),
    ("string number", "String 1 is the one nearest the floor"),
    ("alternating bass", "Its partner is the string that belongs to it"),
    ("barre", "easier chords stand below"),
    ("bars between", "the higher, the harder"),
]


@pytest.mark.parametrize(("query", "answer"), QUESTIONS)
def test_the_help_answers_what_a_beginner_asks_first(query: str, answer: str) -> None:
    """Ten questions in the words of somebody new: the answer is among the paragraphs that are found."""
    found = search(chapters(""), query)
    said = [part for _, parts in found for part in parts]
    assert any(answer in part for part in said), [chapter.title for chapter, _ in found]


def test_the_help_names_keys_that_are_there_and_says_little_on_each_page() -> None:
    """Every key in the chapters is one of an action; no chapter is longer than a screen or two."""
    keys = {action.key for action in ACTIONS}
    for chapter in chapters(""):
        for key in re.findall(
            r"\b(?:Ctrl|Alt|Shift)\+(?:F\d{1,2}|[A-Za-z\[\]]+)|(?<!\+)\bF\d{1,2}\b", chapter.text
        ):
            assert key in keys, (chapter.title, key)
        assert len(chapter.text.split()) < 330, chapter.title


def test_help_is_a_page_that_is_searched_and_left_with_escape(qtbot, window) -> None:
    """F1, a word, the first chapter that holds it; nothing found says what to do; Escape goes back to Build."""
    window.actions_by_id["help"].trigger()
    page = window.pages.stack.currentWidget()
    assert window.pages.current == "help" and page.list.count() >= 8
    QTest.keyClicks(page.line, "barre")
    assert "barre" in page.text.toPlainText().lower() and "place" in page.count.text()
    page.line.setText("zither")
    assert page.list.count() == 0 and "F12" in page.text.toPlainText()
    page.line.clear()
    page.list.setCurrentRow(page.list.count() - 1)
    assert "Ctrl+Z" in page.text.toPlainText()
    QTest.keyClick(page.list, Key.Key_Escape)
    assert window.pages.current == "build"


def test_the_help_opens_where_the_keyboard_is(qtbot, window) -> None:
    """First the first minutes; then the chapter on a drawer's part, a picture, a page; a marked word is looked up."""
    window.view.pattern.setFocus()
    ask = window.actions_by_id["help"].trigger
    ask()
    page = window.pages.help

    def title() -> str:
        return page.list.currentItem().text()

    assert title() == FIRST
    ask()
    assert window.pages.current == "build"
    for look, chapter in (
        (lambda: window.drawers.open("capo"), "Capo and tunings"),
        (lambda: window.drawers.open("change"), "Changes"),
        (lambda: window.view.pattern.setFocus(), "Patterns: typing and saying them"),
        (lambda: window.view.strings.setFocus(), "How the thumb is chosen"),
        (lambda: window.pages.go("takes"), "Hearing yourself"),
        (lambda: window.pages.go("way"), "My way of playing"),
    ):
        window.pages.go_build()
        look()
        ask()
        assert (window.pages.current, title()) == ("help", chapter)
    window.pages.go_build()
    line = window.view.bar.words
    line.setText("p squeak p")
    line.setFocus()
    line.setSelection(2, 6)
    ask()
    assert page.line.text() == "squeak" and "squeak" in page.text.toPlainText().lower()
    assert set(CHAPTER_OF.values()) <= {chapter.title for chapter in chapters("")}


def test_your_hands_is_a_chapter_with_what_has_been_played(window, monkeypatch) -> None:
    """The cautions, and what this session has been so far; nothing opens over the window."""
    window.actions_by_id["hand"].trigger()
    page = window.pages.help
    assert window.pages.current == "help" and "see a clinician" in page.text.toPlainText()
    assert "So far" not in page.text.toPlainText()
    monkeypatch.setattr(page, "_so_far", lambda: "So far: 12 minutes played since the last break.")
    page.show_chapter("Your hands")
    assert "12 minutes played" in page.text.toPlainText()
