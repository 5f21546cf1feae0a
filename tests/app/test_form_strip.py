"""The form as a strip of cloth: blocks as long as they last, moved by hand and by key; one undo step each."""

from __future__ import annotations

from itertools import pairwise

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from gingham.app.views.form.strip_canvas import StripPlan
from gingham.core.pieces.form import Turn, print_turns
from gingham.core.values import replace
from tests.conftest import make_piece

Key, Mod = Qt.Key, Qt.KeyboardModifier


@pytest.fixture
def strip(qtbot, window):
    """The strip of a verse, played twice, and a copy of it, on the Form page."""
    with qtbot.waitSignal(window.shown.settled):
        piece = make_piece("| G | C | D | Em |")
        window.document.edit("Other", replace(piece, sections=(replace(piece.sections[0], repeats=2),)))
    window.add_section()
    window.pages.go("form")
    made = window.pages.form.strip
    qtbot.waitUntil(lambda: len(made.turns) == 2)
    return made


def order(window) -> str:
    """The performance as it is written."""
    return print_turns(window.document.piece.turns(False))


@pytest.mark.parametrize(
    ("bars", "width", "wide"),
    [
        ((8, 4), 1_000.0, [320.0, 160.0]),  # as long as they last, a bar 40 pixels at most
        ((8, 8), 400.0, [146.0, 146.0]),  # all the room there is beside gaps and ending
        ((100, 1), 600.0, None),  # a block of one bar can still be hit
        ((), 500.0, []),
    ],
)
def test_blocks_are_as_wide_as_they_last(
    bars: tuple[int, ...], width: float, wide: list[float] | None
) -> None:
    """Beside one another, inside the strip, found again where they lie."""
    plan = StripPlan(bars, width)
    edges = plan.edges()
    found = [right - left for left, right in edges]
    assert wide is None or found == pytest.approx(wide)
    assert all(right > left for left, right in edges) and (not edges or edges[-1][1] < width - 78)
    assert all(plan.block_at((left + right) / 2) == i for i, (left, right) in enumerate(edges))
    assert plan.block_at(9_999.0) == (len(bars) - 1 if bars else None)


def test_turns_are_moved_doubled_and_taken_out_by_key(strip, window) -> None:
    """Alt+Right, plus, Insert, Delete; what is chosen is told; undo takes each back."""
    assert order(window) == "Verse x2, Verse 2 x2" and "turn 1 of 2" in strip.accessibleDescription()
    QTest.keyClick(strip, Key.Key_Right, Mod.AltModifier)
    assert order(window) == "Verse 2 x2, Verse x2" and strip.current == 1
    QTest.keyClicks(strip, "+")
    assert order(window) == "Verse 2 x2, Verse x3"
    QTest.keyClick(strip, Key.Key_Insert)
    QTest.keyClick(strip, Key.Key_Left)
    QTest.keyClick(strip, Key.Key_Left)
    QTest.keyClick(strip, Key.Key_Delete)
    assert order(window) == "Verse x3, Verse x3" and "3 times in a row" in strip.accessibleDescription()
    for _ in range(4):
        window.document.stack.undo()
    assert order(window) == "Verse x2, Verse 2 x2"


def test_a_block_is_dragged_and_a_click_shows_its_section(qtbot, strip, window) -> None:
    """From the first place to the last; a click alone moves nothing."""
    edges = strip.plan.edges()
    first, last = (QPoint(round(sum(edge) / 2), 60) for edge in edges)
    QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=first)
    qtbot.waitUntil(lambda: window.shown.section == 0)
    before = order(window)
    QTest.mousePress(strip, Qt.MouseButton.LeftButton, pos=first)
    QTest.mouseMove(strip, last)
    assert not strip.grab().isNull()
    QTest.mouseRelease(strip, Qt.MouseButton.LeftButton, pos=last)
    assert before == "Verse x2, Verse 2 x2" and order(window) == "Verse 2 x2, Verse x2"


def test_a_form_of_a_hundred_turns_can_be_painted(strip, window) -> None:
    """None gets lost, none lies on another."""
    strip.show_form(strip.map, tuple(Turn("Verse", 1 + i % 3) for i in range(100)), "roll")
    edges = strip.plan.edges()
    assert len(edges) == 100 and all(a[1] <= b[0] + 10.0 for a, b in pairwise(edges))
    assert not strip.grab().isNull()


def test_a_section_is_made_sparser(qtbot, window) -> None:
    """Form's Density: the thumb alone for this section; the other keeps its pattern; undo takes it back."""
    with qtbot.waitSignal(window.shown.settled):
        window.add_section()
    window.actions_by_id["form"].trigger()
    form = window.pages.form
    before = window.document.piece
    index = next(i for i in range(form.density.count()) if form.density.itemText(i).startswith("thumb alone"))
    form.density.setCurrentIndex(index)
    with qtbot.waitSignal(window.shown.settled):
        form.density.activated.emit(index)
    piece = window.document.piece
    assert piece.sections[1].pattern == "Mine, thumb alone" and piece.sections[0].pattern == "Mine"
    assert {s.finger for _, s in piece.pattern("Mine, thumb alone").strokes()} == {"p"}
    window.actions_by_id["undo"].trigger()
    assert window.document.piece == before


def test_a_block_of_the_piece_before_does_nothing(qtbot, strip, window) -> None:
    """Another piece is shown while the strip still has the old one's blocks."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit(
            "Other", replace(make_piece("| G |"), sections=(make_piece("| G |").sections[0],))
        )
    section = window.shown.section
    strip.section_wanted.emit("Verse 2")
    assert window.shown.section == section
