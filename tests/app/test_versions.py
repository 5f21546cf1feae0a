"""Versions in the drawer, and the print pack."""

from __future__ import annotations

from datetime import datetime

from gingham.core.pieces.edits import set_tempo
from gingham.paper.ops import Text


def test_a_version_is_kept_compared_and_gone_back_to(qtbot, window) -> None:
    """With a note; the list says what has changed since; going back is an edit with undo."""
    window.actions_by_id["versions"].trigger()
    panel = window.view.drawer.part("versions")
    panel.clock = lambda: datetime(2026, 11, 30, 10, 15)
    assert panel.empty.isVisible() and not panel.list.isVisible()
    panel.note.setText("before the bass walks")
    with qtbot.waitSignal(window.shown.settled):
        panel.keep()
    assert panel.list.count() == 1 and panel.note.text() == "" and not panel.back.isEnabled()
    assert panel.list.item(0).text() == "2026-11-30, 10:15  before the bass walks"
    panel.keep()
    assert panel.message.isVisible() and "Nothing has changed" in panel.message.text()
    with qtbot.waitSignal(window.shown.settled):
        window.shown.edit("Tempo", set_tempo(window.shown.piece, 99))
    assert panel.changed.text() == "Tempo: 72, now 99."
    with qtbot.waitSignal(window.shown.settled):
        panel.back.click()
    assert window.shown.piece.tempo == 72 and len(window.shown.piece.versions) == 1
    with qtbot.waitSignal(window.shown.settled):
        window.actions_by_id["undo"].trigger()
    assert window.shown.piece.tempo == 99
    panel.beside.click()
    assert len(window.documents) == 2 and window.document.piece.tempo == 72


def test_the_print_pack_has_everything(qtbot, window) -> None:
    """All that is set, the sheet, a card of the pattern, the call sheet, each on pages of its own."""
    window.actions_by_id["sheet"].trigger()
    sheet = window.pages.sheet
    box = sheet.view.kind
    with qtbot.waitSignal(sheet.laid_out):
        box.setCurrentIndex(box.findData("pack"))
        box.activated.emit(box.currentIndex())
    pages = sheet.view.canvas.pages
    texts = [" ".join(op.text for op in page.ops if isinstance(op, Text)) for page in pages]
    assert len(pages) == 4 and "How it is played" in texts[0] and "top speed" in texts[2]
    assert sheet.default_name().endswith(", pack.pdf")
