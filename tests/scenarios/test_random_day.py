"""Somebody presses everything in any order: nothing breaks, and every piece can be saved, printed and sent."""

from __future__ import annotations

import random
from pathlib import Path

import pytest
from PySide6.QtWidgets import QMessageBox

from gingham.app.shell.start import demo_documents
from gingham.core.formats.piece_file import piece_from_bytes, piece_to_bytes
from gingham.paper.exports import export

ASKING = {
    "open", "save", "save-as", "export", "quit", "print", "read", "save-sheet", "device", "help", "hand", "close",
    "reload", "new",
}  # fmt: skip
STEPS = 120


# A menu that pops up wants the keyboard, which the offscreen plugin cannot give.
@pytest.mark.qt_log_ignore("does not support grabbing the keyboard", extend=True)
@pytest.mark.parametrize("seed", [1, 3])
def test_any_order_of_actions_leaves_pieces_whole(
    qtbot, window, monkeypatch, tmp_path: Path, seed: int
) -> None:
    """Actions, the cursor anywhere, fingers put in, undo: pytest-qt fails on any fault in a slot."""
    told: list[str] = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *a: told.append(a[2]))
    for document in demo_documents():
        window.add(document)
    random_ = random.Random(seed)
    names = sorted(set(window.actions_by_id) - ASKING)
    build = window.build
    for _ in range(STEPS):
        window.actions_by_id[random_.choice(names)].trigger()
        if build.axis is not None and build.axis.columns and random_.random() < 0.4:
            build.set_column(random_.randrange(len(build.axis.columns)))
            build.gestures.toggle(build.column, random_.choice("pima"))
        if random_.random() < 0.1:
            window.view.pieces.setCurrentIndex(random_.randrange(window.view.pieces.count()))
        if random_.random() < 0.1:
            window.document.stack.undo()
        qtbot.wait(random_.choice([0, 2, 15]))
    window.transport.stop()
    for document in window.documents:
        assert piece_from_bytes(piece_to_bytes(document.piece)) == document.piece
        for suffix in (".musicxml", ".mid", ".txt", ".csv", ".pdf"):
            assert export(document.piece, tmp_path / f"out{suffix}") > 0
    assert told == []
