"""The hand learned from takes: told with its number, and chosen for the piece with one key."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QObject, Signal

from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.views.takes.hearing_job import HeardTake
from gingham.app.views.takes.view import TakesView
from gingham.core.hands.motor import MOTORS
from gingham.core.listening.learned import LEAST_TAKES, Learned, learned
from gingham.core.listening.shelf import Facts
from gingham.core.pieces.edits import set_level
from gingham.language import tr
from gingham.words.names import level_text
from gingham.words.notices import notice
from gingham.words.ringing import hand_text


class LearnedHand(QObject):
    """Learns from every take that has been heard, of this piece and of others."""

    notice = Signal(str)

    def __init__(self, view: TakesView, shown: Shown, settings: Settings, parent: QObject) -> None:
        super().__init__(parent)
        self._view, self._shown, self._settings = view, shown, settings
        self._learned: Learned | None = None
        self._held = 0
        view.hand.clicked.connect(lambda _on: self.use())

    def show_takes(self, own: Sequence[Facts], taken: HeardTake | None) -> None:
        """What the takes come to by now."""
        gaps = [facts.gaps for facts in own if facts.gaps is not None]
        gaps += taken.elsewhere if taken is not None else ()
        level = self._shown.piece.rules.level
        self._learned = learned(gaps, level if level in MOTORS else "growing")
        self._held = sum(each.held for each in gaps)
        if self._learned is not None:
            self._settings.set_text("learned-hand", self._learned.level)
        self._show()

    def _show(self) -> None:
        found, button = self._learned, self._view.hand
        if found is not None:
            button.setText(tr("Use {level}", level=level_text(found.level)))
        button.setVisible(found is not None and self._shown.piece.rules.level != found.level)

    @property
    def words(self) -> list[str]:
        """What is known of the hand, or how much is missing."""
        if self._learned is not None:
            return [hand_text(self._learned.motor, self._learned.takes)]
        return [notice("hand-few", held=self._held, least=LEAST_TAKES)] if self._held else []

    def use(self) -> None:
        """This piece is judged by the learned hand from now on."""
        if self._learned is None:
            return
        self._shown.edit(tr("My hand"), set_level(self._shown.piece, self._learned.level))
        self.notice.emit(notice("hand-used", takes=self._learned.takes))
        self._show()
