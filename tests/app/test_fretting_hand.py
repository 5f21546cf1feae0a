"""The fretting hand in the window: fingers on dots, how far a shape goes, ways out of a change, what stays."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from gingham.core.pieces.chordline import print_chord_line
from gingham.core.shapes.fingers import print_fretting
from tests.conftest import make_piece

Key, Shift = Qt.Key, Qt.KeyboardModifier.ShiftModifier


def chords(window) -> str:
    """The shown section's chord line as it is printed."""
    return print_chord_line(window.shown.piece.sections[window.shown.section].chords)


def show(qtbot, window, line: str, tempo: int = 80, pattern: str = "4/4 x2: p m p i ; p m p i") -> None:
    """Another piece in the window."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece(line, pattern, tempo=tempo))


def shapes_of(window):
    """The shapes of the chord under the cursor, in the drawer."""
    window.drawers.open("shapes")
    return window.drawers.shapes


def test_a_finger_is_put_on_a_dot_and_how_far_is_asked(qtbot, window) -> None:
    """C x32010: on the neck the cursor goes to string 5 fret 3, 4 puts the little finger there, E holds it."""
    show(qtbot, window, "| C | G | C |")
    window.shown.select_span(0)
    inspector = shapes_of(window)
    neck = inspector.neck
    for key in (Key.Key_Right, Key.Key_Right, Key.Key_Down, Key.Key_Down):
        QTest.keyClick(neck, key)
    assert (neck.string, neck.fret) == (5, 3)
    QTest.keyClick(neck, Key.Key_4)
    assert not inspector.ask.isVisible() and chords(window) == "| C | G | C |"
    QTest.keyClick(neck, Key.Key_Return)
    assert inspector.ask.isVisible() and "042010" in inspector.ask.question.text()
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(inspector.ask, Key.Key_E)
    assert chords(window) == "| C{x32010:042010} | G | C{x32010:042010} |"
    held = window.shown.result.spans[0].assignment.fretting
    assert print_fretting(held.fingers) == "042010" and not inspector.ask.isVisible()


def test_fingers_that_change_places_or_do_not_suit(qtbot, window) -> None:
    """Finger 2 on string 5 drives 3 to string 4, where it lies below 2: said, and nothing has changed."""
    show(qtbot, window, "| C{x32010:032010} | G |")
    window.shown.select_span(0)
    inspector = shapes_of(window)
    inspector.put_finger(5, 2)
    assert "lies below" in inspector.about.text() and not inspector.ask.isVisible()
    assert chords(window) == "| C{x32010:032010} | G |"


def test_a_shape_is_held_only_here_or_in_the_section(qtbot, window) -> None:
    show(qtbot, window, "| C | G | C |")
    window.shown.select_span(2)
    inspector = shapes_of(window)
    other = next(i for i, each in enumerate(inspector._shapes) if str(each.shape) == "x35553")
    inspector.grid.current = other
    inspector.grid.chosen.emit(other)
    inspector.hold()
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(inspector.ask, Key.Key_H)
    assert chords(window) == "| C | G | C{x35553} |"
    inspector.hold()
    QTest.keyClick(inspector.ask, Key.Key_Escape)
    assert chords(window) == "| C | G | C{x35553} |"


def test_the_change_under_the_cursor_has_ways_out_by_key(qtbot, window) -> None:
    """A slid barre with no time: 1 leaves the last pluck out, which undo brings back."""
    show(qtbot, window, "| A{577655} | G{355433} |", tempo=120)
    window.drawers.open("change")
    overview = window.drawers.change
    window.shown.select_span(1)
    qtbot.waitUntil(lambda: overview.ways.buttons[0].isVisible())
    assert "A → G" in overview.title.text() and len(overview.windows.moves) == 4
    assert overview.windows.change.block == -2
    assert overview.ways.words[0].text() and overview.ways.buttons[0].text().endswith("   1")
    before = window.shown.piece
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(overview, Key.Key_1)
    assert len(window.shown.piece.overrides) == 1
    window.document.stack.undo()
    assert window.shown.piece == before


def retune(qtbot, window, text: str) -> None:
    """Type other strings; what stays is asked."""
    window.actions_by_id["setup"].trigger()
    line = window.view.setup.tuning
    line.setText(text)
    line.setModified(True)
    line.editingFinished.emit()
    line.left.emit()
    qtbot.waitUntil(lambda: window.view.ask.isVisible())


def test_the_question_about_other_strings_goes_with_them(qtbot, window) -> None:
    """Escape takes the strings back; so does undo, and nothing is asked any more."""
    usual = window.shown.piece.instrument.tuning_text()
    retune(qtbot, window, "D2 A2 D3 G3 B3 E4")
    QTest.keyClick(window.view.ask, Key.Key_Escape)
    assert window.shown.piece.instrument.tuning_text() == usual and not window.view.ask.isVisible()
    retune(qtbot, window, "D2 A2 D3 G3 B3 D4")
    window.actions_by_id["undo"].trigger()
    assert window.shown.piece.instrument.tuning_text() == usual and not window.view.ask.isVisible()


def test_other_strings_keep_the_names_or_the_shapes(qtbot, window) -> None:
    """A whole tone down: names stay at first; S keeps the shapes instead, as a step of its own."""
    show(qtbot, window, "| G{320003} | C{x32010} |")
    retune(qtbot, window, "D2 G2 C3 F3 A3 D4")
    assert chords(window) == "| G{320003} | C{x32010} |"
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(window.view.ask, Key.Key_S)
    assert [word.split("{")[0] for word in chords(window).split() if word != "|"] == ["F", "Bb"]


def test_a_hop_is_drawn_as_one(qtbot, window) -> None:
    """C with root and fifth: string 6 has a dotted ring at fret 3, no cross; the card says that it hops."""
    from gingham.app.widgets.card_face import face_of
    from gingham.core.pieces.rules import Rules, ThumbPlan
    from gingham.core.values import replace

    piece = make_piece("| C |", "4/4 x1: p i p m", tempo=60)
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Hop", replace(piece, rules=Rules(thumb=ThumbPlan("root-fifth"))))
    face = face_of(window.shown.result, 0, False, False)
    hop = face.dots[0]
    assert (hop.string, hop.fret, hop.hop) == (6, 3, True) and "6 (hop)" in face.thumb
