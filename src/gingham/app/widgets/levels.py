"""The list of hands that top speeds are judged by: the known ones, and those learned from takes."""

from __future__ import annotations

from contextlib import suppress

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QComboBox

from gingham.core.errors import NumberError
from gingham.core.hands.motor import takes_of
from gingham.core.pieces.rules import LEVELS
from gingham.words.names import level_text


def show_level(box: QComboBox, level: str, learned: str = "") -> None:
    """Choose a level in a list; one `learned` by now and the piece's own stand below the known ones."""
    with QSignalBlocker(box):
        while box.count() > len(LEVELS):
            box.removeItem(len(LEVELS))
        for each in dict.fromkeys((learned, level)):
            with suppress(ValueError, NumberError):
                if takes_of(each):
                    box.addItem(level_text(each), each)
        box.setCurrentIndex(box.findData(level))
