"""What the help is asked about: the word that is marked, else the place where the keyboard is."""

from __future__ import annotations

from PySide6.QtWidgets import QLabel, QLineEdit, QPlainTextEdit, QTextEdit, QWidget

from gingham.app.shell.frame import Frame
from gingham.words.chapters import CHAPTER_OF

_LONGEST_WORD = 40


def marked_word(at: QWidget | None) -> str:
    """The words that are marked where the keyboard is; empty where none are, or a whole line."""
    text = ""
    if isinstance(at, QLineEdit | QLabel):
        text = at.selectedText()
        if isinstance(at, QLineEdit) and text == at.text():
            text = ""  # marked because the line was entered, not to be asked about
    elif isinstance(at, QTextEdit | QPlainTextEdit):
        text = at.textCursor().selectedText()
    text = " ".join(text.split())
    return text if len(text) <= _LONGEST_WORD else ""


def chapter_for(window: Frame, place: str) -> str | None:
    """The chapter on the page that is shown, in Build on what has the keyboard; None where none is."""
    if place in CHAPTER_OF:
        return CHAPTER_OF[place]
    view, at = window.view, window.focusWidget()
    for part, widget in (
        ("cards", view.cards), ("strings", view.strings), ("result", view.result),
        ("pattern", view.pattern), ("words", view.bar.words), (view.drawer.current, view.drawer),
    ):  # fmt: skip
        if at is not None and (at is widget or widget.isAncestorOf(at)):
            return CHAPTER_OF.get(part)
    return None
