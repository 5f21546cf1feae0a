"""The drawer's part on the plucking hand, and the shape in words."""

from __future__ import annotations

from gingham.core.judging.hand_places import hand_path
from gingham.core.pieces.rules import Rules
from tests.conftest import make_piece


def test_the_hand_follows_the_cursor_and_gets_calmer(qtbot, window) -> None:
    """Its title names the chord; the offer is an edit of the section, with undo; then nothing is calmer than that."""
    window.actions_by_id["plucking"].trigger()
    panel = window.drawers.hand
    assert panel.title.text() == "The hand on G" and "Strings in use" in panel.strings.text()
    window.actions_by_id["next-chord"].trigger()
    assert panel.title.text() != "The hand on G"
    qtbot.waitUntil(lambda: bool(panel.ways) and panel.take[0].isVisible())
    before, own = hand_path(window.shown.result), panel.ways[0].own
    with qtbot.waitSignal(window.shown.settled):
        panel.take[0].click()
    after = hand_path(window.shown.result)
    assert window.shown.piece.sections[0].own == own
    assert after.thumb < before.thumb or after.shifts < before.shifts
    assert f"{after.thumb:.1f} strings a bar" in panel.path.text()
    with qtbot.waitSignal(window.shown.settled):
        window.actions_by_id["undo"].trigger()
    assert f"{before.thumb:.1f} strings a bar" in panel.path.text()


def test_a_flat_pick_has_no_fingers(qtbot, window) -> None:
    """Its way over the strings is said; no finger's place, no thumb on the beats, no calmer fingers."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Pick", make_piece("| G{320003} |", "4/4 x1: p i p i", rules=Rules(hand="pick")))
    window.actions_by_id["plucking"].trigger()
    panel = window.drawers.hand
    assert "flat pick" in panel.place.text() and "crosses 8.0 strings" in panel.place.text(), (
        "6 3 4 3: 3 + 1 + 1 + 3"
    )
    assert panel.beats.text().startswith("Plucks a second") and "flat pick" in panel.beats.text()
    assert not panel.path.isVisible() and not panel.take[0].isVisible()


def test_a_shape_is_said_with_its_reason(window) -> None:
    """From string 6 to 1, and why it is held; on another shape of the list without a reason."""
    window.actions_by_id["inspect"].trigger()
    panel = window.drawers.shapes
    held = panel.more.text()
    assert held.startswith("String 6 fret 3") and held.splitlines()[-1].startswith(
        ("The easiest", "Not the", "You")
    )
    panel.grid.chosen.emit(1 if panel.grid.current == 0 else 0)
    other = panel.more.text()
    assert other != held and not other.splitlines()[-1].startswith(("The easiest", "Not the", "You"))
