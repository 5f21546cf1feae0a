"""The drawer: capo, key and tuning; the bass line and the changes; shapes and a neck to finger them on."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from gingham.app.views.change.panel import overview_html
from gingham.core.bench.callsheet import call_sheet
from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import CATALOGUE, instrument
from gingham.core.instruments.retune import pegs
from gingham.core.judging.bassline import bass_line, inversions
from gingham.core.pieces.chordline import print_chord_line
from gingham.core.pieces.edits import set_chords
from gingham.core.pieces.form_edits import set_tune
from gingham.words.tuning import peg_text
from tests.conftest import make_piece

EIGHTHS = "4/4 x2: p i p m p i p m"


@pytest.fixture
def moves(qtbot, window):
    """Capo and key in the drawer with the first comparison done."""
    window.actions_by_id["moves"].trigger()
    qtbot.waitUntil(lambda: bool(window.drawers.capo.places.places))
    return window.drawers.capo


def chords(window) -> str:
    """The chord line of the piece."""
    return print_chord_line(window.document.piece.sections[0].chords)


def test_another_capo_is_taken_with_its_shapes(qtbot, window, moves) -> None:
    """Enter in a row rewrites the chords for that capo; what sounds stays; one undo step."""
    canvas = moves.places
    row = [place.capo for place in canvas.places].index(0)
    QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.rect_of(row).center().toPoint())
    assert canvas.current == row and "No capo: effort" in canvas.accessibleDescription()
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(canvas, Qt.Key.Key_Return)
    assert window.document.piece.capo == 0
    assert chords(window).startswith("| A | Bm7 |") and window.document.stack.count() == 1
    window.document.stack.undo()
    assert window.document.piece.capo == 2
    qtbot.waitUntil(
        lambda: not moves.waiting.isVisible() and moves._compared[0] is window.document.piece,
    )
    assert canvas.now == 2 and 2 in [place.capo for place in canvas.places]


def test_another_key_lists_what_is_given_up(qtbot, window, moves) -> None:
    """The pinned Em7 is named before the move; afterwards the chords are three semitones higher."""
    moves.semitones.setValue(3)
    assert "Em7 022030" in moves.given_up.text() and moves.key.currentText() == "B♭"
    with qtbot.waitSignal(window.shown.settled):
        moves.move_button.click()
    assert chords(window) == "| Bb | Cm7 | Fsus4 F | Gm7 |" and moves.semitones.value() == 0
    assert not moves.move_button.isEnabled()
    moves.key.setFocus()
    QTest.keyClick(moves.key, Qt.Key.Key_End)  # the last of the twelve: from B♭ to A it is shorter down
    assert moves.key.currentText() == "A" and moves.semitones.value() == -1


def test_a_singer_s_range_finds_the_nearest_key(qtbot, window, moves) -> None:
    """Typed by keys and remembered; the nearest key is chosen, and after the move the voice has the tune."""
    window.document.edit("Tune", set_tune(window.document.piece, 0, "| E4 . C#5 . |"))
    voice = moves.voice
    QTest.keyClicks(voice.line, "A3")
    assert "no singer’s range" in voice.text.text() and not voice.nearest.isEnabled()
    QTest.keyClicks(voice.line, " to B4")
    assert "outside this voice" in voice.text.text() and voice.nearest.isEnabled()
    voice.nearest.click()
    assert moves.semitones.value() == -2
    with qtbot.waitSignal(window.shown.settled):
        moves.move_button.click()
    assert "this voice has it as it is" in voice.text.text() and not voice.nearest.isEnabled()
    assert window.settings.text("voice-range", "") == "A3 to B4"


def test_the_call_sheet_has_every_name(window, moves) -> None:
    """For this player, as it sounds, and for another capo; it can be copied."""
    moves.other_capo.setValue(4)
    moves.copy_button.click()
    text = QApplication.clipboard().text()
    assert text == moves.sheet.toPlainText() == call_sheet(window.document.piece, 4)
    assert "capo 2  | G | Am7" in text and "sounds  | A | Bm7" in text and "capo 4  | F | Gm7" in text


@pytest.mark.parametrize(
    ("on", "tuning", "texts"),
    [
        ("guitar", "D2 A2 D3 G3 B3 E4", ["String 6 down 2 semitones to D: an octave below string 4 open."]),
        ("guitar", "E2 A2 D3 G3 B3 E4", []),
        ("ukulele", "G4 C4 E4 B4", ["String 1 up 2 semitones to B: the same as string 4 fret 4. Careful"]),
        ("guitar", "G2 D3 G3 B3", []),
    ],
)
def test_which_peg_how_far_and_what_to_match(on: str, tuning: str, texts: list[str]) -> None:
    """Down or up, in semitones, against a string that stays; upward with a caution."""
    found = [peg_text(peg) for peg in pegs(instrument(on, tuning))]
    assert len(found) == len(texts) and all(a.startswith(b) for a, b in zip(found, texts, strict=True))


def test_the_line_its_jumps_and_the_inversion_that_mends_them() -> None:
    """C G Am: the leap down to G goes by step as G/B; alternation inside a chord is no jump."""
    result = fit(make_piece("| C | G | Am | C |", EIGHTHS))
    notes = bass_line(result)
    assert [note.jumps for note in notes].count(True) == 1
    jump = next(note for note in notes if note.jumps)
    assert (jump.bar, str(jump.pitch), jump.degree, jump.leap) == (2, "G2", "1", -9)
    assert [(each.symbol, each.before, each.after) for each in inversions(result)] == [("G/B", -1, -2)]
    assert bass_line(fit(make_piece("| N.C. |", EIGHTHS))) == ()
    uke = fit(make_piece("| C | F | G7 |", "3/4 x1: p i m", instrument=CATALOGUE["ukulele"]))
    assert all(note.string in (3, 4) for note in bass_line(uke))


def test_the_overview_follows_the_piece_and_leads_back_to_it(qtbot, window) -> None:
    """A click on a note selects its chord; an edit is in the line at once; the hardest change is named."""
    window.actions_by_id["overview"].trigger()
    overview = window.drawers.change
    line = overview.line
    assert len(line.contour.notes) == 16
    last = len(line.contour.notes) - 1
    QTest.mouseClick(line, Qt.MouseButton.LeftButton, pos=QPoint(round(line.contour.x(last)), 80))
    assert window.shown.span_index() == 4
    QTest.keyClick(line, Qt.Key.Key_Left)
    assert line.current == last - 1
    with qtbot.waitSignal(window.shown.settled):
        window.view.pattern.finger_toggled.emit(0, "p")
    qtbot.waitUntil(lambda: len(line.contour.notes) == 12)
    assert "The hardest changes" in overview.words.text() and not line.grab().isNull()
    window.actions_by_id["night"].trigger()
    assert line.appearance.theme.name == "night"


def test_what_is_worth_remembering_is_said() -> None:
    """Grips that are one grip moved, fingers that stay, in plain words."""
    html = overview_html(fit(make_piece("| Am{x02210} | E{022100} | Am{x02210} |", EIGHTHS)))
    assert "E is the Am grip 1 string over, toward the highest string number." in html
    html = overview_html(fit(make_piece("| F{133211} | G{355433} |", EIGHTHS)))
    assert "G is the F grip 2 frets up." in html


def test_an_easier_chord_is_offered_and_taken(qtbot, window) -> None:
    """F8 lists what each loses; the chosen one stands in the line, pinned, and can be undone."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Chords", make_piece("| C | F{133211} | G | C |", EIGHTHS))
    window.shown.select_span(1)
    window.actions_by_id["standins"].trigger()
    near = window.drawers.shapes.near
    qtbot.waitUntil(lambda: not near.visibleRegion().isEmpty())
    first = near.item(0).text()
    assert first.startswith("Fmaj7 xx3210: saves") and "suits its neighbours" in first
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(near, Qt.Key.Key_Return)
    assert chords(window) == "| C | Fmaj7{xx3210} | G | C |"
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Chords", make_piece("| N.C. | G |", EIGHTHS))
    window.shown.select_span(0)
    assert "Nothing easier" in near.item(0).text() or not near.count()
    near.take(0)
    assert chords(window) == "| N.C. | G |"


def test_a_shape_with_a_foreign_tone_is_given_its_other_name(qtbot, window) -> None:
    """Typed as C, held as Cadd9: the panel says what it would be called."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Chords", make_piece("| C{x32030} |", EIGHTHS))
    assert "would be called Cadd9" in window.view.reasons.words.text()


def test_looking_at_a_chord_hearing_and_taking_another_shape(qtbot, window) -> None:
    """F9 shows its shapes; Space brushes one, Enter and H pin it where the chord enters; they follow."""
    window.actions_by_id["inspect"].trigger()
    inspector = window.drawers.shapes
    grid = inspector.grid
    assert "G" in inspector.head.text() and "sounds A" in inspector.head.text()
    names = [face.name for face in grid.faces]
    assert names[0] == "320003" and "355433" in names[:3] and grid.faces[0].note == "held now"
    QTest.keyClick(grid, Qt.Key.Key_Right)
    assert (
        grid.current == 1 and names[1] in inspector.about.text() and "On the neck" in inspector.about.text()
    )
    QTest.keyClick(grid, Qt.Key.Key_Space)
    assert window.transport.playing and window.transport.options.loop and window.transport.options.count_in
    window.transport.stop()
    QTest.keyClick(grid, Qt.Key.Key_Return)
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(inspector.ask, Qt.Key.Key_H)
    assert chords(window).startswith(f"| G{{{names[1]}}} | Am7 |")
    window.build.view.cards.chosen.emit(1)
    assert "Am7" in inspector.head.text()
    QTest.mouseClick(grid, Qt.MouseButton.LeftButton, pos=grid.rect_of(2).center().toPoint())
    assert grid.current == 2
    window.transport.stop()


def test_left_handed_diagrams_are_mirrored_and_remembered(qtbot, window) -> None:
    """String 1 moves to the other side; the next start has it; words stay the same."""
    from PySide6.QtCore import QRectF

    from gingham.app.widgets.diagram import Diagram

    area = QRectF(10, 0, 50, 40)
    assert Diagram(area, 6).x(1) == Diagram(area, 6, mirrored=True).x(6) == area.right()
    before = window.view.cards.grab().toImage()
    window.actions_by_id["mirror"].trigger()
    assert window.view.cards.appearance.mirrored and window.view.cards.grab().toImage() != before
    assert window.settings.flag("mirror", False)


def test_a_walk_is_shown_and_says_what_it_replaces(qtbot, window) -> None:
    """Turned on in the set-up: marks with steps, words in the panel and under the pointer."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Chords", make_piece("| G{320003} | C{x32010} |", EIGHTHS))
    plain = window.view.result.grab().toImage()
    box = window.view.setup.walk
    with qtbot.waitSignal(window.shown.settled):
        box.activated.emit(box.findData("walk"))
    words = window.view.reasons.words.text()
    assert "The thumb walks on: string 5 open and string 5 fret 2." in words
    assert "In place of string 6 and string 4." in words
    canvas = window.view.result
    at = QPoint(round(canvas.axis.columns[6].middle), round(canvas.rows().y(5)))
    assert "Instead of string 4." in canvas.words_at(at)
    assert canvas.grab().toImage() != plain
    window.actions_by_id["thumb-root-fifth"].trigger()
    assert str(window.document.piece.rules.thumb) == "root-fifth+walk"
    with qtbot.waitSignal(window.shown.settled):
        window.document.stack.undo()
    with qtbot.waitSignal(window.shown.settled):
        window.actions_by_id["chord-walk"].trigger()
    assert "walks on" not in window.view.reasons.words.text()
    assert "walking out" not in window.view.reasons._exceptions.itemAt(1).widget().text()
    with qtbot.waitSignal(window.shown.settled):
        window.actions_by_id["chord-walk"].trigger()
    assert window.document.piece.overrides == ()
    canvas.pluck_moved.emit(6, 5, 4)
    assert not window.view.ask.isVisible() and "set-up" in window.statusBar().currentMessage()


def test_the_change_between_two_cards_is_shown_and_told(qtbot, window) -> None:
    """A bar in the gap, higher and in the colour of faults where it is hard; words under the pointer."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit(
            "Chords", make_piece("| G{320003} | Bm{x24432} | Bm7{x24232} |", EIGHTHS, tempo=300)
        )
    cards = window.view.cards
    second = cards.card_rect(1)
    gap = QPoint(round(second.left() - 5), round(second.bottom() - 3))
    red = window.appearance.theme.fault.lower()
    qtbot.waitUntil(lambda: cards.grab().toImage().pixelColor(gap).name() == red)
    image = cards.grab().toImage()
    assert cards.words_at(gap).startswith("G to Bm, bar 2.")
    assert cards.words_at(QPoint(20, 20)) == ""
    easy = cards.card_rect(2)
    high = image.pixelColor(QPoint(round(easy.left() - 5), round(easy.top() + 10))).name()
    assert high != red


def test_hearing_a_shape_or_a_pattern_leaves_the_shown_section_alone(qtbot, window) -> None:
    """What sounds belongs to the shape: no playhead runs, and the first section is not jumped to."""
    window.add_section()
    qtbot.waitUntil(lambda: window.shown.section == 1 and window.shown.result.section == 1)
    owners: list[str] = []
    window.transport.moved.connect(lambda owner, *_place: owners.append(owner))
    window.drawers.open("shapes")
    window.drawers.shapes.hear_shape()
    qtbot.waitUntil(lambda: len(owners) > 3)
    assert set(owners) == {"shape"} and window.shown.section == 1
    assert window.view.result.playhead is None
    window.transport.stop()


def test_the_capo_positions_follow_the_section(qtbot, window, moves) -> None:
    """Other chords are shown there: they are compared anew."""

    def shapes() -> list[str]:
        return [" ".join(shape.text for shape, _ in place.shapes) for place in moves.places.places]

    first = shapes()
    chords = make_piece("| F | Bb |").sections[0].chords
    with qtbot.waitSignal(window.shown.settled):
        window.add_section()
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Chords", set_chords(window.document.piece, 1, chords))
    qtbot.waitUntil(lambda: "E A" in shapes())
    window.shown.select_section(0)
    qtbot.waitUntil(lambda: shapes() == first)
