"""The bench's window, driven as a player would: patterns tried and taken, said, tapped, varied, fitted, read."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QFontMetrics, QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QLabel, QPushButton

from gingham.app.look.theme import NIGHT
from gingham.app.views.bench.mix_strip import MixBar
from gingham.core.formats.pattern_file import PATTERN_SUFFIX, save_pattern, shelf
from gingham.core.later import _NOT_YET
from gingham.core.patterns.library import builtin
from gingham.core.patterns.shorthand import parse_pattern, print_pattern
from tests.conftest import HEARTH, make_piece

ENTER = Qt.Key.Key_Return


@pytest.fixture
def bench(qtbot, window, tmp_path: Path, monkeypatch):
    """The bench over the sketch's chords, its folder empty; the library has been tried once."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    window.actions_by_id["bench"].trigger()
    made = window.pages.bench
    qtbot.waitUntil(lambda: not made.library.progress.isVisible())
    return made


def words(window) -> str:
    """The section's pattern as the piece has it."""
    piece = window.document.piece
    return print_pattern(piece.pattern(piece.sections[window.shown.section].pattern))


def shown(bench) -> list[str]:
    """The names on the wall, from the top."""
    return [tile.name.removesuffix(", now") for tile in bench.library.wall.tiles]


def choose(wall, text: str) -> None:
    """Click the tile whose name begins with a text."""
    index = next(i for i, tile in enumerate(wall.tiles) if tile.name.startswith(text))
    QTest.mouseClick(wall, Qt.MouseButton.LeftButton, pos=middle(wall, index))
    assert wall.tiles[wall.current].name.startswith(text)


def middle(wall, index: int) -> QPoint:
    """The middle of a tile."""
    x, y, wide, high = wall.plan.rect(index)
    return QPoint(round(x + wide / 2), round(y + high / 2))


def pick(bench, text: str) -> None:
    """Click a tile of the library's wall."""
    choose(bench.library.wall, text)
    assert bench.library.entry.name.startswith(text)


def test_every_pattern_is_tried_and_one_is_taken_by_key(qtbot, bench, window) -> None:
    """Conflicts, hard changes and top speed on each tile; Enter uses; one undo step; orders."""
    library, wall = bench.library, bench.library.wall
    assert set(shown(bench)) == {name for name, p in builtin() if str(p.meter) == "4/4"}
    assert all("up to" in tile.note and "plucks a bar" in tile.under for tile in wall.tiles)
    library.order.setCurrentIndex(library.order.findData("speed"))
    library.order.activated.emit(0)
    speeds = [library._heard[name].limit for name in (entry.name for entry in library._shown)]
    assert speeds == sorted(speeds, reverse=True) and speeds[0] > speeds[-1]
    pick(bench, "Rope walk")
    assert "becomes" in library.chosen.about.text() and "Rope walk on G" in library.chosen.title.text()
    assert wall.tiles[wall.current].marked and "up to" in wall.accessibleDescription()
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(wall, ENTER)
    assert words(window) == "4/4 x2: p i m i ; p i m i"
    with qtbot.waitSignal(window.shown.settled):
        window.actions_by_id["undo"].trigger()
    assert words(window) == HEARTH


def test_the_wall_goes_by_arrows_and_the_nearest_comes_first(qtbot, bench) -> None:
    """Right, down by a row, End; in order of nearness the piece's own pattern is the first."""
    library, wall = bench.library, bench.library.wall
    wall.choose(0)
    QTest.keyClick(wall, Qt.Key.Key_Right)
    QTest.keyClick(wall, Qt.Key.Key_Down)
    assert wall.current == 1 + wall.plan.columns and wall.plan.columns >= 3
    QTest.keyClick(wall, Qt.Key.Key_End)
    assert wall.current == len(wall.tiles) - 1 and not wall.grab().isNull()
    library.order.setCurrentIndex(library.order.findData("near"))
    library.order.activated.emit(0)
    counts = [len(tile.marked) for tile in wall.tiles]
    assert counts == sorted(counts) and counts[0] == 0 < counts[-1]


def test_space_hears_the_chosen_pattern(qtbot, bench, window) -> None:
    """On the piece's own chords, and again is silence; the piece stays as it is."""
    pick(bench, "Slow tide")
    with qtbot.waitSignal(window.transport.state_changed):
        QTest.keyClick(bench.library.wall, Qt.Key.Key_Space)
    assert window.transport.playing and len({n.at for n in window.transport._line.notes if n.gain}) == 8 * 4
    QTest.keyClick(bench.library.wall, Qt.Key.Key_Space)
    assert not window.transport.playing and words(window) == HEARTH


def test_search_and_filters(qtbot, bench) -> None:
    """Words in name or tags; fingers, density, thumb; patterns of other meters come converted."""
    library = bench.library
    library.search.setText("chuck")
    assert shown(bench) == ["Tar and feather"]
    library.search.setText("nothing like this")
    assert shown(bench) == [] and "Clear the search" in library.chosen.about.text()
    library.search.clear()
    library.fingers.setCurrentIndex(library.fingers.findData("2"))
    library.fingers.activated.emit(0)
    assert "Thumb and tide" in shown(bench) and "Hearth" not in shown(bench)
    library.fingers.setCurrentIndex(0)
    library.meter.setCurrentIndex(1)
    library.meter.activated.emit(1)
    assert len(shown(bench)) == len(builtin())
    qtbot.waitUntil(lambda: not library.progress.isVisible())
    pick(bench, "Swell")
    assert "from another meter" in library.chosen.about.text()


def test_patterns_of_the_player_are_equal_to_the_built_in_ones(qtbot, bench, window) -> None:
    """Kept as a file, listed, taken, removed; a damaged file is named and the rest is there."""
    library = bench.library
    with qtbot.waitSignal(window.shown.settled):
        window.view.pattern.finger_toggled.emit(1, "a")
    library.name.setText("Lantern hook")
    library.keep()
    folder = bench.desk.folder
    assert [name for name, _, _ in shelf(folder).patterns] == ["Lantern hook"]
    assert "Lantern hook (mine)" in shown(bench)
    pick(bench, "Lantern hook")
    assert library.remove_button.isEnabled()
    (folder / f"broken{PATTERN_SUFFIX}").write_text("{")
    library.refresh()
    assert f"broken{PATTERN_SUFFIX}" in library.faults.text() and "Lantern hook (mine)" in shown(bench)
    library.name.setText("Hearth")
    library.keep()
    assert "built-in" in bench.note.text()
    pick(bench, "Lantern hook")
    library.remove()
    assert "Lantern hook (mine)" not in shown(bench) and shelf(folder).patterns == ()


def test_an_order_without_beats_is_offered_ways_and_taken(qtbot, bench, window) -> None:
    """Six strokes said in finger words; the guess is told; the rolling way brings its alignment along."""
    bench.pages.setCurrentWidget(bench.enter)
    QTest.keyClicks(bench.enter.line, "T I M R M I")
    assert "choose how it sits" in bench.enter.guesses.text()
    listed = [tile.name for tile in bench.enter.wall.tiles]
    assert (
        listed[0] == "Half a bar that comes twice"
        and "Evenly over 2 beats" in listed
        and "In 6/8, where it fills the bar" in listed
    )
    choose(bench.enter.wall, "On across the bar line, round again after 3 bars")
    rolling = bench.enter.wall.tiles[bench.enter.wall.current]
    assert (rolling.note, rolling.under) == ("1 & 2 & 3 &", "6 plucks in 3/4 of a bar · 4/4")
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(bench.enter.wall, ENTER)
    assert words(window) == "4/4 x2: p i m a m i" and window.document.piece.rules.align == "run"
    window.document.stack.undo()
    assert (words(window), window.document.piece.rules.align) == (HEARTH, "bar")
    choose(bench.enter.wall, "In 3/4, where it fills the bar")
    bench.enter.take()
    assert "2 places do not fit 3 beats" in bench.note.text() and str(window.document.piece.meter) == "4/4"
    choose(bench.enter.wall, "In 6/8, where it fills the bar")
    with qtbot.waitSignal(window.shown.settled):
        bench.enter.take()
    assert (str(window.document.piece.meter), words(window)) == ("6/8", "6/8 x3: p i m a m i")


def test_strings_are_read_on_the_chosen_chord(qtbot, bench, window) -> None:
    """The same strings mean other fingers on another chord; the bench says which chord was taken."""
    bench.pages.setCurrentWidget(bench.enter)
    QTest.keyClicks(bench.enter.line, "4/4 x2: 6+2 . 4 3 ; 6 2 4 3")
    assert print_pattern(bench.enter.chosen.pattern) == "4/4 x2: p1+m . p2 i ; p1 m p2 i"
    assert "on G" in bench.enter.guesses.text()
    window.shown.select_span(3)
    qtbot.waitUntil(lambda: "on D" in bench.enter.guesses.text())
    bench.enter.line.setText("T I elbow")
    bench.enter.read()
    assert "elbow" in bench.enter.message.text() and bench.enter.line.fault == (4, 9)
    assert bench.enter.way is None


def test_an_order_typed_in_the_main_window_goes_on_in_the_bench(qtbot, bench, window) -> None:
    """The pattern line says where to go; F3 takes the words along."""
    window.actions_by_id["build"].trigger()
    window.view.bar.words.setText("p i m a m i")
    window.view.bar.words.textEdited.emit("p i m a m i")
    assert "F3" in window.view.words_message.text()
    window.actions_by_id["bench"].trigger()
    assert bench.pages.currentWidget() is bench.enter and len(bench.enter.wall.tiles) > 5


def test_a_pattern_is_tapped_in_time(qtbot, bench, window, monkeypatch) -> None:
    """Keys while the click runs; what was guessed is told; the pattern can be taken."""
    bench.pages.setCurrentWidget(bench.enter)
    enter = bench.enter
    enter.bars.setValue(1)
    QTest.mouseClick(enter.pad, Qt.MouseButton.LeftButton)
    assert enter.tapping and window.transport.playing
    for place, finger in enumerate("p.pipmpi"):
        monkeypatch.setattr(window.transport, "position", lambda place=place: place / 8 + 0.015)
        if finger != ".":
            QTest.keyClicks(enter.pad, finger)
    window.transport.stop()
    assert not enter.tapping and print_pattern(enter.way.pattern) == "4/4 x2: p . p i p m p i"
    assert "Fitted to 2 places a beat" in enter.guesses.text()
    with qtbot.waitSignal(window.shown.settled):
        enter.take()
    assert words(window) == "4/4 x2: p . p i p m p i"
    enter.toggle_tapping()
    enter.toggle_tapping()
    assert "Nothing was tapped" in enter.guesses.text()


def test_variations_mixes_and_permitted_strings(qtbot, bench, window) -> None:
    """Ranked, marked where they differ, taken; a seed is told; one finger gets two strings."""
    bench.pages.setCurrentWidget(bench.vary)
    vary = bench.vary
    qtbot.waitUntil(lambda: len(vary.wall.tiles) > 10)
    assert vary.wall.tiles[0].name == "Mine, now" and not vary.wall.tiles[0].marked
    choose(vary.wall, "A pinch with the middle on every beat")
    assert vary.chosen.marked == vary.wall.tiles[vary.wall.current].marked == {2, 4, 6}
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(vary.wall, ENTER)
    assert words(window) == "4/4 x2: p+m . p+m i ; p+m m p+m i"
    window.document.stack.undo()
    qtbot.waitUntil(lambda: bench.desk.pattern == parse_pattern(HEARTH))
    vary.finger.setCurrentIndex(vary.finger.findData("m"))
    for how, said in (("turns", "m/2/1"), ("always", "m/2")):
        vary.how.setCurrentIndex(vary.how.findData(how))
        vary.permit()
        assert f"{said} " in print_pattern(vary.chosen.pattern) + " "
    vary.seed.setValue(11)
    vary.how.setCurrentIndex(vary.how.findData("free"))
    vary.permit()
    assert "(seed 11)" in vary.chosen.about.text()
    vary.strings.setText("2 9")
    vary.permit()
    assert "from 1 to 6" in bench.note.text()


def drag(wall, index: int, strip, x: int) -> None:
    """Drag a tile of a wall to a place of the mix."""
    here, there = middle(wall, index), wall.mapFromGlobal(strip.mapToGlobal(QPoint(x, strip.height() // 2)))
    QTest.mousePress(wall, Qt.MouseButton.LeftButton, pos=here)
    for place in (here + QPoint(20, 20), there):
        send_move(wall, place)
    QTest.mouseRelease(wall, Qt.MouseButton.LeftButton, pos=there)


def send_move(widget, place: QPoint) -> None:
    """A move with the button held, which QTest does not make."""
    event = QMouseEvent(
        QEvent.Type.MouseMove, QPointF(place), QPointF(widget.mapToGlobal(place)),
        Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier,
    )  # fmt: skip
    QApplication.sendEvent(widget, event)


def thumbs(pattern) -> list[list[int]]:
    """The places of each bar in which the thumb plucks."""
    wide = len(pattern.slots) // int(pattern.length / pattern.meter.bar)
    places = [place for place, stroke in pattern.strokes() if stroke.finger == "p"]
    return [[at % wide for at in places if at // wide == bar] for bar in range(len(pattern.slots) // wide)]


def test_bars_are_mixed_by_dragging_and_by_keys(qtbot, bench, window) -> None:
    """Any number of patterns, own ones too, dropped between bars, moved, taken out; drawn with a told seed."""
    bench.library.name.setText("Lantern hook")
    bench.library.keep()
    bench.pages.setCurrentWidget(bench.vary)
    vary, strip = bench.vary, bench.vary.strip
    vary.shuffle()
    assert "two different patterns" in bench.note.text()
    vary.which.setCurrentIndex(vary.which.findData("all"))
    vary.which.activated.emit(0)
    names = [tile.name for tile in vary.wall.tiles]
    assert names[:2] == ["Mine, now", "Lantern hook"] and "Rope walk" in names
    drag(vary.wall, 0, strip, 30)
    drag(vary.wall, 2, strip, 300)
    drag(vary.wall, 1, strip, 5)  # before the first one
    choose(vary.wall, "Mine")
    QTest.keyClick(vary.wall, Qt.Key.Key_B)
    order = [bar.name for bar in strip.bars]
    assert order == ["Lantern hook", "Mine", names[2], "Mine"]
    assert "Used: Lantern hook · Mine · " in vary.chosen.about.text()
    assert vary.chosen.pattern.length == 4 * vary.chosen.pattern.meter.bar
    drag(vary.wall, 0, strip, -40)  # beside the row: nothing
    strip.setFocus()
    QTest.keyClick(strip, Qt.Key.Key_Left)
    QTest.keyClick(strip, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert [bar.name for bar in strip.bars] == [order[0], names[2], "Mine", "Mine"]
    QTest.keyClick(strip, Qt.Key.Key_Delete)
    assert [bar.name for bar in strip.bars] == [order[0], "Mine", "Mine"]
    QTest.mousePress(strip, Qt.MouseButton.LeftButton, pos=QPoint(20, 50))  # a bar dragged to the end
    send_move(strip, QPoint(round(strip.bar_rect(3).left()), 50))
    QTest.mouseRelease(strip, Qt.MouseButton.LeftButton, pos=QPoint(round(strip.bar_rect(3).left()), 50))
    assert [bar.name for bar in strip.bars] == ["Mine", "Mine", order[0]]
    vary.take()
    qtbot.waitUntil(lambda: bench.desk.pattern.length == 3 * bench.desk.pattern.meter.bar)
    window.document.stack.undo()
    vary.seed.setValue(11)
    vary.shuffle()
    assert "(seed 11)" in vary.chosen.about.text() and len(strip.bars) == 4
    places = next(b for b in vary.findChildren(QPushButton) if b.text() == "Shuffle places")
    places.click()
    by_place, row = vary.chosen.pattern, list(strip.bars)
    assert "places" in vary.chosen.about.text() and by_place.length == 4 * by_place.meter.bar
    vary.own_thumb.click()  # the same places again, with the piece's thumb
    assert thumbs(vary.chosen.pattern) == thumbs(bench.desk.pattern) * 4 and strip.bars == row
    vary.own_thumb.click()
    assert vary.chosen.pattern == by_place
    vary.clear()
    assert not strip.bars and "Drag patterns" in strip.accessibleDescription()


def test_a_pattern_goes_into_the_mix_from_the_library_and_from_what_was_said(qtbot, bench, window) -> None:
    """B on either wall; what was changed since is another pattern under a name of its own."""
    pick(bench, "Rope walk")
    QTest.keyClick(bench.library.wall, Qt.Key.Key_B)
    assert "Rope walk" in bench.note.text()
    bench.pages.setCurrentWidget(bench.enter)
    QTest.keyClicks(bench.enter.line, "T I M R M I")
    choose(bench.enter.wall, "Evenly over one bar")
    QTest.keyClick(bench.enter.wall, Qt.Key.Key_B)
    strip = bench.vary.strip
    assert [bar.name for bar in strip.bars] == ["Rope walk", "Evenly over one bar"]
    strip.put(MixBar("Rope walk", parse_pattern(HEARTH)))
    assert strip.bars[-1].name == "Rope walk′"


def test_the_hand_is_judged_and_changed(qtbot, bench, window) -> None:
    """Limit, spots, strokes a second; fewer fingers and what they leave out; accents and level are rules."""
    bench.pages.setCurrentWidget(bench.hand)
    hand = bench.hand
    qtbot.waitUntil(lambda: window.shown.verdict is not None)
    assert "beats a minute, set by" in hand.speed.text() and "thumb" in hand.rates.text()
    hand.hand.setCurrentIndex(hand.hand.findData("pi"))
    hand.hand.activated.emit(0)
    assert print_pattern(hand.strip.pattern) == "4/4 x2: p+i' . p i ; p i' p i"
    hand.take()
    assert window.document.piece.rules.hand == "pi" and "i'" in words(window)
    hand.hand.setCurrentIndex(hand.hand.findData("pick"))
    hand.hand.activated.emit(0)
    assert "down — down up" in hand.about.text()
    hand.level.activated.emit(hand.level.findData("fluent"))
    hand.accents.activated.emit(hand.accents.findData("march"))
    assert (window.document.piece.rules.level, window.document.piece.rules.accents) == ("fluent", "march")
    window.document.stack.undo()
    assert window.document.piece.rules.accents == "thumb"


def test_names_are_chosen_once_for_everything(qtbot, bench, window, settings) -> None:
    """The bench's boxes and the View menu change the same names; they are remembered."""
    bench.pages.setCurrentWidget(bench.say)
    say = bench.say
    assert say.lines["strings"].text() == "6+2 — 4 3 6 2 4 3" and say.title.text().endswith("on G")
    say.copy("pairs")
    assert QApplication.clipboard().text() == "pinch — inside outside inside"
    say.boxes["fingers"].activated.emit(say.boxes["fingers"].findData("letters"))
    assert (
        window.view.pattern.theme.naming.finger("m") == "M"
        and settings.text("names-fingers", "") == "letters"
    )
    window.actions_by_id["names-strings"].trigger()
    window.actions_by_id["names-counts"].trigger()
    assert window.view.strings.theme.naming.string(3, "G") == "G string"
    assert say.boxes["counts"].currentData() == "trip-let"
    window.appearance.set_night(True)
    assert bench.vary.strip.theme.name == NIGHT.name


def test_six_beats_are_previewed_before_anything_changes(qtbot, bench, window) -> None:
    """Before and after, what is left out; taken where the chords fit."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece("| G | C |", HEARTH))
    bench.pages.setCurrentWidget(bench.meter)
    page = bench.meter
    assert "Left out: p on 4" in page.about.text() and page.before.marked == {6}
    assert print_pattern(page.after.pattern) == "6/8 x3: p+m p i p m i" and words(window) == HEARTH
    with qtbot.waitSignal(window.shown.settled):
        page.take()
    assert str(window.document.piece.meter) == "6/8" and words(window) == "6/8 x3: p+m p i p m i"
    qtbot.waitUntil(lambda: "6/8" in page.now.text())
    page.meter.setCurrentText("4/4")
    page.meter.activated.emit(0)
    assert "Nothing is left out. 2 of its 8 places rest." in page.about.text()


def test_every_control_of_the_bench_has_a_name_and_every_label_is_whole(qtbot, bench) -> None:
    """For readers of the screen; no button's words are cut in the usual window."""
    for index in range(bench.pages.count()):
        bench.pages.setCurrentIndex(index)
        page = bench.pages.currentWidget()
        qtbot.wait(30)
        for button in page.findChildren(QAbstractButton):
            inner = button.objectName().startswith("qt_") or not button.isVisible()
            words = button.text().replace("&", "")
            assert inner or words or button.accessibleName() or button.parent().objectName(), button
            if words and not inner:
                assert QFontMetrics(button.font()).horizontalAdvance(words) <= button.width(), words
        for label in page.findChildren(QLabel):
            if label.isVisible() and label.text() and not label.wordWrap():
                assert label.sizeHint().width() <= label.width() + 1, label.text()


def test_of_a_thousand_patterns_those_in_sight_are_drawn(qtbot, bench, window, monkeypatch) -> None:
    """A large library with a damaged file: listed whole, told once, found by name; only rows in sight are made."""
    folder = bench.desk.folder
    folder.mkdir(parents=True, exist_ok=True)
    pattern = parse_pattern("4/4 x2: p i m i p i m i")
    text = save_pattern(folder, "Net 0", pattern).read_text(encoding="utf-8")
    for number in range(1, 1000):
        path = folder / f"net-{number}{PATTERN_SUFFIX}"
        path.write_text(text.replace("Net 0", f"Net {number}"), encoding="utf-8")
    (folder / f"torn{PATTERN_SUFFIX}").write_text("{", encoding="utf-8")
    library = bench.library
    monkeypatch.setattr(library, "_try", lambda: None)
    library.refresh()
    assert len(library.wall.tiles) >= 1000 and "torn" in library.faults.text()
    QApplication.processEvents()
    assert 0 < sum(tile is not _NOT_YET for tile in library.wall.tiles._items) < 60
    assert 0 < len(library.wall.cells()) < 60
    library.search.setText("Net 77")
    assert "Net 777 (mine)" in shown(bench) and "Net 5 (mine)" not in shown(bench)
