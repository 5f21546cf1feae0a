"""The Sheet view, the form window and the reading window, driven as a player does."""

from __future__ import annotations

import threading
from fractions import Fraction
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from gingham.app.session.document import Document
from gingham.app.shell.start import fill
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.transport import Transport
from gingham.app.views.sheet import controller
from gingham.core.fitting.performance import perform
from gingham.core.formats.piece_file import load_piece
from gingham.core.patterns.library import for_meter
from gingham.core.patterns.shorthand import print_pattern
from gingham.core.pieces.chordline import print_chord_line
from gingham.core.pieces.form import print_turns
from gingham.core.values import replace
from gingham.data import FOLDER
from gingham.paper.exports import export
from gingham.paper.layout import lay_out
from gingham.paper.ops import Text
from tests.conftest import make_piece, play


@pytest.fixture
def forty(qtbot, window):
    """The window with Forty Lanterns shown."""
    with qtbot.waitSignal(window.shown.settled):
        window.add(Document(load_piece(FOLDER / "demo" / "forty-lanterns.gingham")))
    return window


@pytest.fixture
def sheet(qtbot, forty):
    """The Sheet view with its first pages."""
    forty.actions_by_id["sheet"].trigger()
    qtbot.waitUntil(lambda: bool(forty.pages.sheet.view.canvas.pages))
    return forty.pages.sheet


def shown(sheet) -> str:
    """All text of the pages in the view."""
    return " ".join(op.text for page in sheet.view.canvas.pages for op in page.ops if isinstance(op, Text))


def choose(qtbot, sheet, box, data: object) -> None:
    """As a player would: pick a row, then wait for its pages."""
    with qtbot.waitSignal(sheet.laid_out):
        box.setCurrentIndex(box.findData(data))
        box.activated.emit(box.currentIndex())


def test_the_sheet_follows_the_piece_and_its_choices(qtbot, forty, sheet) -> None:
    """Kinds, paper, switches; another title is on the page a moment later; F11 goes back."""
    assert "Forty Lanterns" in shown(sheet) and sheet.view.status.text() == "Page 1 of 2"
    choose(qtbot, sheet, sheet.view.kind, "card")
    assert "Say the fingers" in shown(sheet) and sheet.view.section.isVisible()
    choose(qtbot, sheet, sheet.view.kind, "call")
    assert "It sounds in A." in shown(sheet) and sheet.view.other_capo.isVisible()
    with qtbot.waitSignal(sheet.laid_out):
        sheet.view.other_capo.setValue(4)
    assert "capo 4" in shown(sheet)
    choose(qtbot, sheet, sheet.view.kind, "sheet")
    choose(qtbot, sheet, sheet.view.paper, "Letter")
    assert sheet.view.canvas.pages[0].width == 612
    with qtbot.waitSignal(sheet.laid_out):
        sheet.view.switches["shapes"].click()
    assert "thumb 6 then 4" not in shown(sheet)
    with qtbot.waitSignal(sheet.laid_out):
        forty.shown.edit("Title", replace(forty.document.piece, title="Fifty"))
    assert "Fifty" in shown(sheet)
    forty.actions_by_id["sheet"].trigger()
    assert forty.pages.tabs.currentIndex() == 0 and forty.view.isVisible()
    assert forty.settings.text("sheet-size", "") == "Letter" and not forty.settings.flag("sheet-shapes", True)


def test_pages_are_turned_and_sized_with_keys(qtbot, sheet) -> None:
    """Page Down, End, +, 0; only pages in sight have a picture."""
    canvas = sheet.view.canvas
    canvas.setFocus()
    QTest.keyClick(canvas, Qt.Key.Key_PageDown)
    assert canvas.page_at(canvas.verticalScrollBar().value() + 20) == 1
    assert sheet.view.status.text() == "Page 2 of 2"
    before = canvas.scale
    QTest.keyClicks(canvas, "+")
    assert canvas.scale == pytest.approx(1.2 * before)
    QTest.keyClicks(canvas, "0")
    assert canvas.scale == before
    QTest.keyClick(canvas, Qt.Key.Key_Home)
    assert canvas.verticalScrollBar().value() == 0
    canvas.grab()
    assert len(canvas._pixmaps) == 1


def test_left_handed_and_night_reach_the_sheet(qtbot, forty, sheet) -> None:
    """Mirrored shapes, and tablature turned over, are laid out anew; the paper stays white at night."""
    for switch in ("mirror", "lowest-on-top"):
        before = sheet.view.canvas.pages
        with qtbot.waitSignal(sheet.laid_out):
            forty.actions_by_id[switch].trigger()
        assert sheet.view.canvas.pages != before
    forty.actions_by_id["night"].trigger()
    picture = sheet.view.canvas.grab().toImage()
    assert picture.pixelColor(picture.width() // 2, 60).lightness() > 250
    assert picture.pixelColor(3, 3).lightness() < 60


def test_the_sheet_is_saved_as_it_is_shown(qtbot, forty, sheet, tmp_path: Path, monkeypatch) -> None:
    """Saving the sheet asks for a file; without a suffix it is a PDF."""
    out = tmp_path / "stand"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(out), ""))
    with qtbot.waitSignal(forty.files.exporter.done):
        forty.actions_by_id["save-sheet"].trigger()
    assert out.with_suffix(".pdf").read_bytes().startswith(b"%PDF")


def test_a_sheet_goes_to_the_printer_page_by_page(qtbot, forty, sheet, tmp_path: Path) -> None:
    """A printer that prints into a file gets every page; the window says so."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    sheet.print_to(printer)
    qtbot.waitUntil(lambda: "gone to the printer" in forty.statusBar().currentMessage())
    from pypdf import PdfReader

    reader = PdfReader(tmp_path / "printed.pdf")
    assert len(reader.pages) == 2 and "Forty Lanterns" in " ".join(reader.pages[0].extract_text().split())


def test_a_hundred_pages_leave_the_window_awake(qtbot, window, monkeypatch) -> None:
    """They are laid out in a worker, and only the ones in sight are painted."""
    window.actions_by_id["sheet"].trigger()
    long = make_piece("| G | Am7 | Dsus4 D | Em7 " * 800 + "|")
    workers: set[str] = set()

    def watched(*given: object) -> object:
        workers.add(threading.current_thread().name)
        return lay_out(*given)

    monkeypatch.setattr(controller, "lay_out", watched)
    window.shown.edit("Long", long)
    qtbot.waitUntil(lambda: len(window.pages.sheet.view.canvas.pages) >= 100)
    assert workers and threading.main_thread().name not in workers
    window.pages.sheet.view.canvas.grab()
    assert len(window.pages.sheet.view.canvas._pixmaps) <= 2


# The form.


@pytest.fixture
def form(qtbot, forty):
    """The form window on Forty Lanterns."""
    forty.actions_by_id["form"].trigger()
    qtbot.addWidget(forty.pages.form)
    return forty.pages.form


def retype(line, text: str) -> None:
    """As a player would: into an empty line, key by key."""
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, text)


def test_the_form_window_shows_sections_sums_and_departures(qtbot, forty, form) -> None:
    """What stands where, what it adds up to, where the pattern is left."""
    cells = [[form.table.item(r, c).text() for c in range(5)] for r in range(2)]
    assert cells[0] == ["Verse", "8", "Hearth", "2", "bar 8: Quay steps"] and cells[1][0] == "Refrain"
    qtbot.waitUntil(lambda: bool(form.sums.text()))
    assert "Performance: 41 bars, 2 min 17 s" in form.sums.text() and "Practice: 16 bars" in form.sums.text()
    assert "Dsus4, D: ½ bar, ½× the pattern" in form.sums.text()
    assert form.departed.text().split("\n") == [
        "Bar 8 plays Quay steps, to the end of the section",
        "Dsus4 to D: string 1 from fret 3 to 2, the rest held; first heard in bar 3 on 3&.",
    ]


def test_order_ending_and_remarks_are_typed(qtbot, forty, form) -> None:
    """Typing an order is one undo step; a section that is not there is told and changes nothing."""
    steps = forty.document.stack.count()
    retype(form.orders[False], "Refrain x2, Verse")
    assert print_turns(forty.document.piece.performance.turns) == "Refrain x2, Verse"
    form.orders[False].clearFocus()
    assert forty.document.stack.count() == steps + 1
    form.orders[True].setText("Bridge")
    form.orders[True].textEdited.emit("Bridge")
    assert "no section called “Bridge”" in form.message.text() and not forty.document.piece.practice.turns
    form.endings[False].setCurrentIndex(form.endings[False].findData("brush"))
    form.endings[False].activated.emit(0)
    assert forty.document.piece.performance.ending == "brush"
    retype(form.notes, "Slower at the end")
    assert forty.document.piece.notes == "Slower at the end"
    forty.document.stack.undo()
    assert forty.document.piece.notes.startswith("The last bar")


def test_a_bar_gets_a_pattern_of_its_own_from_the_form(qtbot, forty, form) -> None:
    """The cursor's bar, another pattern of the piece, and back."""
    forty.build.set_column(forty.build.axis.column_before(3, Fraction(0)))
    assert form.bar_label.text() == "Verse, bar 3:"
    form.bar_pattern.setCurrentIndex(form.bar_pattern.findData("Rope walk"))
    form.bar_pattern.activated.emit(0)
    assert forty.document.piece.sections[0].pattern_in(3) == "Rope walk"
    qtbot.waitUntil(lambda: "Bar 3 plays Rope walk; back to Hearth at bar 4" in form.departed.text())
    form.bar_pattern.setCurrentIndex(form.bar_pattern.findData("Hearth"))
    form.bar_pattern.activated.emit(0)
    assert forty.document.piece.sections[0].pattern_in(3) == "Hearth"


def test_a_built_in_pattern_and_repeats_are_chosen_in_the_form(qtbot, forty, form) -> None:
    """A pattern that the piece did not have joins it for the bar; times is one undo step."""
    forty.build.set_column(forty.build.axis.column_before(2, Fraction(0)))
    names = [form.bar_pattern.itemData(i) for i in range(form.bar_pattern.count())]
    one_bar = dict(for_meter(forty.document.piece.meter))
    name = next(
        n for n in names if n and n not in ("Hearth", "Rope walk", "Quay steps") and one_bar[n].length == 1
    )
    form.bar_pattern.setCurrentIndex(names.index(name))
    form.bar_pattern.activated.emit(0)
    assert forty.document.piece.sections[0].pattern_in(2) == name
    steps = forty.document.stack.count()
    form.times.setValue(3)
    form.times.setValue(4)
    assert forty.document.piece.sections[0].repeats == 4 and forty.document.stack.count() == steps + 1


def test_sections_are_moved_with_keys(forty, form) -> None:
    """Alt and an arrow."""
    form.table.setFocus()
    form.table.selectRow(1)
    QTest.keyClick(form, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert [s.name for s in forty.document.piece.sections] == ["Refrain", "Verse"]
    forty.document.stack.undo()
    assert [s.name for s in forty.document.piece.sections] == ["Verse", "Refrain"]


def test_words_and_tune_are_typed_and_judged(qtbot, forty, form) -> None:
    """Too many in a bar is told with the line; the tune's notes are looked for in the part."""
    page = form.words
    form.tabs.setCurrentIndex(1)
    assert "67 syllables, 2 verses; they lie where the bar lines say" in page.placed.text()
    assert page.checks.text().startswith("Begin on C♯4: the part plucks it with you.")
    page.words.setFocus()
    page.words.setPlainText("| one | " + "la " * 30 + "|")
    assert form.message.text().startswith("Line 1: 30 syllables")
    assert forty.document.piece.sections[0].words[0].startswith("| For-ty"), "nothing has changed"
    page.words.setPlainText("| hum | ")
    assert forty.document.piece.sections[0].words == ("| hum | ",)
    retype(page.tune, "| C#4 |")
    assert [str(n) for n in forty.document.piece.sections[0].tune] == ["C#4"]
    page.tune.clearFocus()
    qtbot.waitUntil(lambda: "sounds 1 of the one note" in page.checks.text())


def test_the_tune_lies_on_the_plucks_and_one_key_carries_it(qtbot, forty, form) -> None:
    """Notes in order by key, with what plucks them or would; Enter carries; undo takes it back; clicks, pages."""
    page, picture = form.words, form.words.picture
    form.tabs.setCurrentIndex(1)
    qtbot.waitUntil(lambda: len(picture.checks) == 7)
    assert [check.by is not None for check in picture.checks] == [True, False, True, False, True, False, True]
    assert picture.current == 1 and page.carry_button.isVisible(), "the first one that the part leaves out"
    picture.setFocus()
    QTest.keyClick(picture, Qt.Key.Key_Left)
    assert "middle plucks it. note 1 of 7" in picture.accessibleDescription()
    assert not page.carry_button.isVisible()
    middle = picture.notes()[1].middle.toPoint()
    QTest.mouseClick(picture, Qt.MouseButton.LeftButton, pos=middle)
    assert picture.current == 1 and "the ring on string 1 would carry it" in page.chosen.text()
    with qtbot.waitSignal(forty.shown.settled):
        QTest.keyClick(picture, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: picture.checks[1].by == "a")
    assert (
        forty.document.piece.sections[0].pattern_in(1) == "Fill, Verse 1"
        and "bar 1" in form.message.text().lower()
    )
    forty.document.stack.undo()
    qtbot.waitUntil(lambda: picture.checks[1].by is None)
    QTest.keyClick(picture, Qt.Key.Key_PageDown)
    assert picture.first == 4 and forty.shown.cursor.bar == 5
    said = [cell.words for cell in picture.cells()]
    assert "bar 5, verse 1: one for the tide and" in said
    assert said[0].startswith("C, bar 5 at 1: thumb on string 5 fret 3")


def test_a_bar_of_its_own_is_edited_where_it_stands(qtbot, forty) -> None:
    """A bar of its own: a finger put in there changes that bar alone; the words line shows its strokes."""
    build = forty.build
    build.set_column(build.axis.column_before(2, Fraction(0)))
    with qtbot.waitSignal(build.shown.settled):
        forty.actions_by_id["own-bar"].trigger()
    assert build.shown.pattern_name() == "Fill, Verse 2"
    with qtbot.waitSignal(build.shown.settled):
        build.gestures.toggle(build.axis.column_before(2, Fraction(1, 8)), "a")
    bars = build.shown.result.bars
    assert any(e.finger == "a" for e in bars[1].events)
    assert not any(e.finger == "a" for b in (bars[0], *bars[2:7]) for e in b.events)
    build.set_column(build.axis.column_before(2, Fraction(0)))
    assert forty.view.bar.words.text() == "4/4 x2: p+m a p i p m p i"
    assert "Fill, Verse 2, this bar" in forty.view.lane_names.note
    build.set_column(build.axis.column_before(3, Fraction(0)))
    assert forty.view.bar.words.text() == "4/4 x2: p+m . p i ; p m p i"
    build.set_column(build.axis.column_before(2, Fraction(0)))
    with qtbot.waitSignal(build.shown.settled):
        forty.actions_by_id["own-bar"].trigger()
    assert build.shown.pattern_name() == "Hearth"


def test_a_fill_that_does_not_add_up_is_told(qtbot, forty) -> None:
    """In the words line and by deleting places; the bar stays whole."""
    build = forty.build
    build.set_column(build.axis.column_before(8, Fraction(0)))
    said: list[str] = []
    build.shown.notice.connect(said.append)
    before = forty.document.piece
    forty.actions_by_id["delete-places"].trigger()
    assert forty.document.piece == before and "has to add up" in said[-1]
    words = forty.view.bar.words
    words.setText("4/4 x2: p i m")
    words.textEdited.emit("4/4 x2: p i m")
    assert words.fault is not None and forty.document.piece == before


def test_a_version_for_one_chord_is_made_from_the_menu(qtbot, forty) -> None:
    """A version for one chord: the note beside the pattern says so."""
    forty.shown.select_span(0)
    with qtbot.waitSignal(forty.shown.settled):
        forty.actions_by_id["chord-version"].trigger()
    assert [v.when for v in forty.document.piece.pattern(forty.shown.pattern_name()).variants] == ["G"]
    assert "version for G" in forty.view.lane_names.note


def test_the_practice_form_is_what_is_heard(qtbot, forty) -> None:
    """The switch changes what goes round."""
    forty.actions_by_id["practice-form"].trigger()
    assert "practice form" in forty.view.bar.status.text()
    play(qtbot, forty)
    assert forty.transport._line.length == 16
    forty.actions_by_id["practice-form"].trigger()
    whole = float(perform(forty.document.piece).length)
    qtbot.waitUntil(lambda: forty.transport._line.length == whole == 41)
    forty.playing.stop()


# Reading.


def test_a_pasted_chart_is_put_right_and_taken(qtbot, forty) -> None:
    """What was guessed is shown; a cell that is put right counts; one undo step, or a new piece."""
    forty.actions_by_id["chart"].trigger()
    reading = forty.pages.reading
    qtbot.addWidget(reading)
    reading.text.setPlainText("Low Tide\n[Verse x2]\nG     C\nSalt and sand\n[Turn]\n| A B C |")
    reading.read_chart()
    assert [reading.table.item(r, 2).text() for r in range(2)] == ["| G | C |", "| A / B C |"]
    assert "each was taken for a bar" in reading.guesses.text()
    reading.table.item(1, 2).setText("| A | B |")
    steps = forty.document.stack.count()
    reading.add_chart()
    piece = forty.document.piece
    assert [s.name for s in piece.sections] == ["Verse", "Refrain", "Verse 2", "Turn"]
    assert print_chord_line(piece.sections[3].chords) == "| A | B |"
    assert piece.sections[2].repeats == 2 and forty.document.stack.count() == steps + 1
    reading.show_chart()
    reading.text.setPlainText("| G | C |")
    reading.read_chart()
    reading.table.item(0, 2).setText("| G | H |")
    reading.take_chart()
    assert "does not begin with a note" in reading.message.text() and len(forty.documents) == 2
    reading.table.item(0, 2).setText("| G | D |")
    reading.take_chart()
    assert len(forty.documents) == 3 and forty.document.modified
    reading.text.setPlainText("words only")
    reading.read_chart()
    assert "no chord in it" in reading.message.text()


@pytest.mark.parametrize("suffix", [".musicxml", ".mid", ".txt"])
def test_a_part_is_read_and_opened(qtbot, forty, tmp_path: Path, suffix: str) -> None:
    """Opening the file of another program shows patterns and exceptions; Enter takes it as a piece."""
    path = tmp_path / f"friend{suffix}"
    export(forty.document.piece, path)
    assert forty.files.open_file(path)
    reading = forty.pages.reading
    qtbot.addWidget(reading)
    qtbot.waitUntil(lambda: reading.read is not None)
    part = reading.part
    assert "p+m . p i p m p i" in part.patterns.tiles[0].note
    assert "Read with the thumb on the bass and its partner" in part.guesses.text()
    assert "1 of them breaks the pattern" in part.count.text() and part.bar_title.text() == "Verse, bar 8"
    assert part.cloth.accessibleDescription().startswith("Verse, bar 8:")
    own = forty.document.piece.sections[0].bars
    QTest.keyClick(part.cloth, Qt.Key.Key_Space)
    assert "put right" in part.cloth.accessibleDescription() and not part.piece().sections[0].bars and own
    QTest.keyClick(part.cloth, Qt.Key.Key_Space)
    assert [each.bar for each in part.piece().sections[0].bars] == [8]
    count = len(forty.documents)
    reading.take_part()
    assert len(forty.documents) == count + 1
    made = forty.document.piece
    assert print_pattern(made.patterns[0].pattern).endswith("p+m . p i p m p i") and made.capo == 2


def test_a_part_named_at_the_start_is_read_beside_an_empty_piece(
    qtbot, settings, qapp, tmp_path: Path
) -> None:
    """`gingham friend.mid` opens the window and reads the file."""
    path = tmp_path / "friend.mid"
    export(make_piece("| G | C |"), path)
    window = MainWindow(settings, Transport(output=SilentOutput()))
    qtbot.addWidget(window)
    fill(window, [path], demo=False)
    qtbot.waitUntil(lambda: window.pages.reading.read is not None)
    assert len(window.documents) == 1
    window.close()


def test_a_chart_in_a_file_goes_to_the_chart_page(qtbot, window, tmp_path: Path) -> None:
    """A text without tablature is a chart to be looked over."""
    path = tmp_path / "chart.txt"
    path.write_text("[Verse]\n| G | C |\n")
    window.files.open_file(path)
    reading = window.pages.reading
    qtbot.addWidget(reading)
    qtbot.waitUntil(lambda: reading.table.rowCount() == 1)
    assert reading.pages.currentIndex() == 0 and "| G | C |" in reading.text.toPlainText()


def test_a_broken_part_is_told_and_the_piece_is_untouched(qtbot, window, tmp_path: Path) -> None:
    """One message with the file; what is open stays open."""
    path = tmp_path / "broken.mid"
    path.write_bytes(b"MThd\0\0")
    before = window.document.piece
    window.files.open_file(path)
    reading = window.pages.reading
    qtbot.addWidget(reading)
    qtbot.waitUntil(lambda: bool(reading.message.text()))
    assert "broken.mid cannot be read as MIDI" in reading.message.text()
    assert not reading.part.take_button.isEnabled() and window.document.piece is before


def test_a_long_reading_can_be_stopped(qtbot, forty, tmp_path: Path) -> None:
    """Stop gives it up; nothing is opened."""
    path = tmp_path / "long.musicxml"
    export(forty.document.piece, path)
    forty.files.open_file(path)
    reading = forty.pages.reading
    qtbot.addWidget(reading)
    reading.part.stop_button.click()
    qtbot.waitUntil(lambda: bool(reading.message.text()))
    assert "was stopped" in reading.message.text()
    assert reading.read is None and not reading.part.take_button.isEnabled()
