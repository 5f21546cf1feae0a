"""One open piece with its undo history and its file. Every edit of the user goes through here."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QUndoCommand, QUndoStack

from gingham.core.pieces.piece import Piece
from gingham.core.practice.identity import identity_of_file, new_identity
from gingham.core.reasons import Reason
from gingham.core.values import replace
from gingham.language import tr

if TYPE_CHECKING:
    from gingham.core.patterns.pattern import Pattern
    from gingham.core.pieces.way import Way

NAMELESS = tr("Untitled")
"""The title of a piece until it is given one; its first file names it."""


class _Change(QUndoCommand):
    """From one valid piece to another. Edits with the same merge key become one step."""

    def __init__(self, document: Document, text: str, after: Piece, merge: str | None) -> None:
        super().__init__(text)
        self._document = document
        self._before = document.piece
        self._after = after
        self.merge = merge

    def redo(self) -> None:
        """Show the new piece."""
        self._document.show(self._after)

    def undo(self) -> None:
        """Show the old piece again."""
        self._document.show(self._before)

    def id(self) -> int:
        """Qt asks only commands with an id whether they merge."""
        return 1 if self.merge else -1

    def mergeWith(self, other: QUndoCommand) -> bool:
        """Take the newer edit of the same gesture into this one."""
        if not isinstance(other, _Change) or other.merge != self.merge:
            return False
        self._after = other._after
        return True


class Document(QObject):
    """Holds the current piece; `edit` replaces it through the undo stack."""

    changed = Signal()
    saved = Signal()

    def __init__(
        self, piece: Piece, path: Path | None = None, parent: QObject | None = None, identity: str = ""
    ) -> None:
        super().__init__(parent)
        self.piece = piece
        self.path = path
        self.stack = QUndoStack(self)
        self.identity = identity or (identity_of_file(path) if path is not None else new_identity())
        """By what the record of practising knows the piece."""
        self.repairs: tuple[Reason, ...] = ()
        """What had to be put right when the file was read."""
        self._gesture = 0

    @classmethod
    def load(cls, path: Path, parent: QObject | None = None) -> Document:
        """Open a piece file; FileError if that fails."""
        from gingham.core.formats.piece_file import load  # loaded when a file is read or written

        read = load(path)
        document = cls(read.piece, path, parent, read.identity)
        document.repairs = read.repairs
        return document

    @property
    def modified(self) -> bool:
        """Whether there are edits that are not in the file."""
        return not self.stack.isClean()

    @property
    def untouched(self) -> bool:
        """Whether this is a new piece of which nothing has been made yet."""
        return self.path is None and not self.stack.count() and not self.piece.chords()

    def edit(self, text: str, after: Piece, merge: str | None = None) -> None:
        """Make `after` the current piece as one undo step called `text`.

        Edits in a row with the same `merge` key are one step, until `end_gesture`.
        """
        if after == self.piece:
            return
        key = f"{merge}#{self._gesture}" if merge else None
        self.stack.push(_Change(self, text, after, key))

    def end_gesture(self) -> None:
        """Whatever comes next is a step of its own, even under the same merge key."""
        self._gesture += 1

    def close(self) -> None:
        """No more signals: a stack that is being destroyed still tells that it has become clean."""
        self.blockSignals(True)
        self.stack.blockSignals(True)

    def show(self, piece: Piece) -> None:
        """Set the piece and tell everybody. For undo commands only."""
        self.piece = piece
        self.changed.emit()

    def file_is_gone(self) -> None:
        """The file has been deleted: what is here is now nowhere else, so it counts as not saved."""
        self.stack.resetClean()

    def save(self, path: Path | None = None, *, over_protected: bool = False) -> None:
        """Write the file (the known one, or `path`, which becomes the known one).

        Raises
        ------
        FileError
            If it cannot be written (`file-protected` if it may not, unless `over_protected`); the piece stays
            open and modified.
        """
        from gingham.core.formats.piece_file import save_piece

        target = path or self.path
        assert target is not None  # the window asks for a path first
        if self.path is None and self.piece.title in ("", NAMELESS):
            self.edit(tr("Title"), replace(self.piece, title=target.stem))
        save_piece(self.piece, target, self.identity, over_protected=over_protected)
        self.path = target
        self.end_gesture()
        self.stack.setClean()
        self.saved.emit()


def empty_piece(way: Way | None = None, own: Mapping[str, Pattern] | None = None) -> Piece:
    """A new piece that begins as a way of playing says, or as usual; `own` are the player's patterns."""
    from gingham.core.pieces.way import Way

    return (Way() if way is None else way).new_piece(NAMELESS, own)
