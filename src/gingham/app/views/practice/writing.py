"""Stages that are written into the piece: a teacher's, or the player's own."""

from __future__ import annotations

from PySide6.QtCore import QObject

from gingham.app.session.shown import Shown
from gingham.app.views.practice.view import PracticeView
from gingham.app.widgets.typed_line import show_fault
from gingham.core.errors import EditError, GinghamError
from gingham.core.pieces.own_stages import MOST_STAGES, parse_own_stage
from gingham.core.practice.stages import Stage
from gingham.core.values import replace
from gingham.language import tr


class Writing(QObject):
    """One line each; every edit can be undone."""

    def __init__(self, view: PracticeView, shown: Shown, parent: QObject) -> None:
        super().__init__(parent)
        self._view, self._shown = view, shown
        view.own.returnPressed.connect(self.write)
        view.own.given_up.connect(self._forget)

    def write(self) -> None:
        """What has been typed becomes a stage of the piece; a fault is said under the line."""
        text, piece = self._view.own.text().strip(), self._shown.piece
        if not text:
            self._forget()
            return
        try:
            stage = parse_own_stage(text, tuple(section.name for section in piece.sections))
        except GinghamError as error:
            show_fault(self._view.own, self._view.own_fault, error)
            return
        if len(piece.stages) >= MOST_STAGES:
            show_fault(self._view.own, self._view.own_fault, EditError("own-stage-many", most=MOST_STAGES))
            return
        self._forget()
        if stage not in piece.stages:
            self._shown.edit(tr("Add stage"), replace(piece, stages=(*piece.stages, stage)))

    def _forget(self) -> None:
        self._view.own.clear()
        show_fault(self._view.own, self._view.own_fault, None)
        self._view.stages.setFocus()

    def delete(self, stage: Stage | None) -> None:
        """Take a stage out of the piece again; the program's own stay."""
        piece = self._shown.piece
        if stage is None or stage.group != "own":
            return
        name = piece.sections[stage.section].name
        words = stage.reason.value("name")
        left = tuple(own for own in piece.stages if (own.section, own.text) != (name, words))
        self._shown.edit(tr("Remove stage"), replace(piece, stages=left))
