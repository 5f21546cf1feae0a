"""The window on screens of many sizes: nothing cut, nothing that jumps, every word to be read, zoom, cloth."""

from __future__ import annotations

from collections import Counter
from itertools import combinations
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QRect
from PySide6.QtGui import QColor, QImage
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLineEdit,
    QListWidget,
    QProgressBar,
    QTableWidget,
    QTableWidgetItem,
    QWidget,
)

from gingham.app.look import theme, zoom
from gingham.app.look.settings import Settings
from gingham.app.session.document import Document, empty_piece
from gingham.core.formats.piece_file import save_piece
from tests.conftest import make_piece
from tests.house.test_house_rules import contrast

SIZES = [(900, 480), (960, 540), (1024, 700), (1280, 720), (1280, 800), (1366, 768), (1920, 1080)]


def shown_parts(window) -> dict[str, QRect]:
    """The parts of Build that are in sight, where they lie in the view."""
    view = window.view
    parts: dict[str, QWidget] = {
        "pieces": view.pieces, "chords": view.chords, "sections": view.sections, "cards": view.cards,
        "strings": view.strings, "result": view.result, "names": view.lane_names, "pattern": view.pattern,
        "drawer": view.drawer, "map": view.map, "conflicts": view.conflicts_button, "tempo": view.bar.tempo,
        "count": view.bar.count, "status": view.bar.status, "play": view.bar.play, "words": view.bar.words,
        "script": view.bar.script, "say": view.bar.say,
    }  # fmt: skip
    return {
        name: QRect(part.mapTo(view, QPoint(0, 0)), part.size())
        for name, part in parts.items()
        if part.isVisible()
    }


@pytest.mark.parametrize("size", SIZES, ids=lambda size: f"{size[0]}x{size[1]}")
def test_every_part_of_build_is_whole_and_beside_the_others(qtbot, window, size: tuple[int, int]) -> None:
    """Inside the view, as high as its rows need, no two on top of each other; the window is as asked for."""
    window.resize(*size)
    qtbot.waitUntil(lambda: window.pages.stack.width() == size[0])
    QApplication.processEvents()
    assert (window.width(), window.height()) == size
    parts = shown_parts(window)
    for name, rect in parts.items():
        assert window.view.rect().contains(rect), name
    for (one, a), (other, b) in combinations(parts.items(), 2):
        assert not a.intersects(b), (one, other)
    rows = window.view.result.rows()
    assert rows.bottom <= window.view.result.height() and rows.step >= (15 if size[1] > 600 else 13)
    assert window.view.pattern.lanes().bottom <= window.view.pattern.height()
    needed = {"result", "pattern", "drawer", "play", "chords", "words"}
    assert needed <= set(parts) and ("cards" in parts) == (size[1] >= 620)


def test_what_is_said_moves_nothing(qtbot, window) -> None:
    """Notices, faults of both lines, what plays next, a silent machine: every part stays where it is."""
    before = shown_parts(window)
    window.notify("A notice of some length " * 6)
    window.view.chords.setText("| Hx |")
    window.view.chords.textEdited.emit("| Hx |")
    window.view.bar.words.setText("4/4: p q")
    window.view.bar.words.textEdited.emit("4/4: p q")
    window.view.bar.show_status("next: C♯m7♭5 and more than there is room for, really much more")
    qtbot.waitUntil(window.view.words_message.isVisible)
    assert window.view.chords_message.isVisible() and shown_parts(window) == before
    window.view.bar.show_silence("No sound card here: playing is silent, the playhead still runs.")
    QApplication.processEvents()
    assert shown_parts(window) == before
    status = window.view.bar.status
    assert status.text().startswith("No sound") and "sound card" in status.toolTip()
    window.view.bar.show_status("loop: bar 1")
    assert status.text().startswith("No sound")
    window.view.bar.show_silence("")
    assert status.text() == "loop: bar 1"


def readable(image: QImage) -> float:
    """The best contrast that any pixel has to the ground: that of the words."""
    seen = Counter(image.pixel(x, y) for x in range(image.width()) for y in range(image.height()))
    ground = QColor(seen.most_common(1)[0][0])
    return max(contrast(ground, QColor(colour)) for colour in seen)


@pytest.mark.qt_log_ignore("This plugin does not support")
@pytest.mark.parametrize("cloth", theme.THEMES.values(), ids=lambda each: each.name)
def test_selected_rows_can_be_read(qtbot, qapp, cloth) -> None:
    """The row of a box that drops down, of a list, of a table, and the marked words of a line: 4.5:1."""
    theme.apply(cloth, qapp)
    box, rows, table, line = QComboBox(), QListWidget(), QTableWidget(1, 1), QLineEdit("lanterns along")
    for part in (box, rows, table, line):
        qtbot.addWidget(part)
        part.show()
    box.addItems(["bass and partner", "root"])
    rows.addItems(["bass and partner", "root"])
    rows.setCurrentRow(0)
    table.setItem(0, 0, QTableWidgetItem("bass and"))
    table.selectRow(0)
    line.selectAll()
    box.showPopup()
    first = box.view().visualRect(box.model().index(0, 0))
    pictures = [
        box.view().viewport().grab().toImage().copy(first),
        rows.viewport().grab().toImage().copy(rows.visualItemRect(rows.item(0))),
        table.viewport().grab().toImage().copy(table.visualItemRect(table.item(0, 0))),
        line.grab().toImage(),
    ]
    box.hidePopup()
    theme.apply(theme.LINEN, qapp)
    assert all(readable(picture) >= 4.5 for picture in pictures), [readable(p) for p in pictures]


def test_words_on_buttons_are_whole(qtbot, window) -> None:
    """At 1024 pixels no button of Build is narrower than its words."""
    window.resize(1024, 700)
    QApplication.processEvents()
    for part in window.view.findChildren(QAbstractButton):
        if part.isVisible() and part.text():
            words = max(part.fontMetrics().horizontalAdvance(line) for line in part.text().splitlines())
            assert part.width() >= words, part.text()
    tabs = window.view.drawer.tabs
    for name in ("setup", "conflicts"):
        window.view.drawer.open(name)
        QApplication.processEvents()
        shown = [tabs.tabRect(i) for i in range(tabs.count()) if tabs.isTabVisible(i)]
        assert shown[-1].right() <= tabs.width(), name


def test_night_follows_the_desktop_until_it_is_chosen(window, settings: Settings, monkeypatch) -> None:
    """A desktop that gets dark takes the window along; not any more once the player has chosen."""
    appearance = window.appearance
    assert appearance.follows_desktop and not appearance.night
    monkeypatch.setattr(theme, "of_desktop", lambda: theme.NIGHT)
    appearance.follow_desktop()
    assert appearance.night and window.actions_by_id["night"].isChecked() and appearance.follows_desktop
    window.actions_by_id["night"].trigger()
    assert not appearance.night and settings.text("theme", "") == "linen"
    appearance.follow_desktop()
    assert not appearance.night
    window.actions_by_id["cloth-desktop"].trigger()
    assert appearance.night and appearance.follows_desktop
    monkeypatch.setattr(theme, "of_desktop", lambda: theme.LINEN)
    appearance.follow_desktop()


@pytest.mark.parametrize(
    ("kept", "dots", "outside", "scale"),
    [
        ("", 96.0, None, None),
        ("", 120.0, None, 1.25),
        ("", 101.0, None, None),  # a display that counts its own millimetres
        ("1.5", 120.0, None, None),  # chosen by the player: the desktop is not asked
        ("", 120.0, "2", None),  # scaled from outside already
        ("broken", 144.0, None, 1.5),
    ],
)
def test_the_desktops_text_size(
    tmp_path: Path, monkeypatch, kept: str, dots: float, outside: str | None, scale: float | None
) -> None:
    """120 dots an inch are text a quarter larger than usual."""
    monkeypatch.delenv("QT_SCALE_FACTOR", raising=False)
    if outside is not None:
        monkeypatch.setenv("QT_SCALE_FACTOR", outside)
    settings = Settings(tmp_path / "s.ini")
    settings.set_text("zoom", kept)
    assert zoom.of_desktop(settings, dots) == scale


def test_zoom_is_kept_for_the_next_start(window, settings: Settings, monkeypatch) -> None:
    """Two steps up, one down, back to the desktop's; the next start tells Qt."""
    for name in ("QT_SCALE_FACTOR", "GINGHAM_SCALED"):
        monkeypatch.setenv(name, "1")  # so that what `prepare` puts there is taken away afterwards
        monkeypatch.delenv(name)
    for name, kept in (("larger", 1.1), ("larger", 1.25), ("smaller", 1.1), ("usual-size", None)):
        window.actions_by_id[name].trigger()
        assert zoom.chosen(settings) == kept
    zoom.choose(settings, 1.5)
    zoom.prepare(settings)
    assert zoom.now() == 1.5


def test_an_untouched_piece_gives_way_and_a_first_file_names_a_piece(window, tmp_path: Path) -> None:
    """A new empty tab goes when a file is opened; one with an edit stays, and takes its file's name."""
    save_piece(make_piece("| G |"), tmp_path / "lanterns.gingham")
    window.add(Document(empty_piece()))
    assert len(window.documents) == 2
    window.files.open_file(tmp_path / "lanterns.gingham")
    assert len(window.documents) == 2 and window.document.path.name == "lanterns.gingham"
    fresh = Document(empty_piece())
    window.add(fresh)
    window.shown.edit("Chords", make_piece("| C |", tempo=90))
    fresh.edit("Title", empty_piece())
    fresh.save(tmp_path / "a quiet evening.gingham")
    assert fresh.piece.title == "a quiet evening" and not fresh.modified
    window.files.open_file(tmp_path / "lanterns.gingham")
    assert fresh in window.documents


def test_settings_that_cannot_be_read_are_put_aside(tmp_path: Path, qapp) -> None:
    """The usual ones hold and are kept from then on; nothing of the old file is lost; where things stood is not missed."""
    path, state = tmp_path / "settings.ini", tmp_path / "window.ini"
    damaged = b"\x00\xff\xfegarbage[["
    path.write_bytes(damaged)
    state.write_bytes(damaged)
    settings = Settings(path, state)
    assert settings.kept and settings.put_aside == tmp_path / "settings.ini.damaged"
    assert settings.put_aside.read_bytes() == damaged
    settings.set_text("names", "words")
    settings.set_text("page", "form")
    again = Settings(path, state)
    assert (again.text("names", ""), again.text("page", "")) == ("words", "form") and again.put_aside is None


@pytest.mark.parametrize("look", [theme.LINEN, theme.NIGHT])
def test_a_bar_of_progress_has_no_number_on_it(qtbot, look: theme.Theme) -> None:
    """Neither colour of ink could be read over both its halves."""
    bar = QProgressBar()
    qtbot.addWidget(bar)
    bar.setStyleSheet(theme._style_sheet(look))
    bar.setValue(60)
    bar.resize(300, 30)
    whole = bar.grab().toImage()
    bar.setTextVisible(False)
    assert whole == bar.grab().toImage()
