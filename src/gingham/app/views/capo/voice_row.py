"""A singer's voice, typed as two notes, and the keys in which it has the tune."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.widgets.parts import button, head, plain, row
from gingham.app.widgets.typed_line import TypedLine
from gingham.core.errors import PitchError
from gingham.core.judging.voice import Voice, VoiceFit, parse_voice, voice_fit
from gingham.language import tr
from gingham.words.errors import say
from gingham.words.voice import voice_text

_SETTING = "voice-range"


class VoiceRow(QWidget):
    """Remembers the voice; `wanted` carries the semitones of the nearest key that suits it."""

    wanted = Signal(int)

    def __init__(self, appearance: Appearance, shown: Shown, settings: Settings) -> None:
        super().__init__()
        self._shown, self._settings = shown, settings
        self._fit: VoiceFit | None = None
        self.line = TypedLine(appearance, tr("Lowest and highest note of the singer"))
        self.line.setPlaceholderText(tr("A3 to D5"))
        self.line.setText(settings.text(_SETTING, ""))
        self.line.textEdited.connect(self._typed)
        self.text = plain()
        self.nearest = button(
            tr("To the nearest key"), tr("Choose the nearest key that this voice can sing"), self._want
        )
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(head(tr("Singer")))
        column.addLayout(row(tr("sings from"), self.line, 1))
        column.addWidget(self.text)
        column.addWidget(self.nearest, alignment=Qt.AlignmentFlag.AlignLeft)

    def _typed(self, text: str) -> None:
        self._settings.set_text(_SETTING, text.strip())
        self.refresh()

    def refresh(self) -> None:
        """Say how the tune lies in the voice, or what is wrong with what was typed."""
        self._fit = None
        typed = self.line.text().strip()
        try:
            self.text.setText(self._said(parse_voice(typed)) if typed else "")
        except PitchError as error:
            self.text.setText(say(error))
        self.text.setVisible(bool(typed))
        self.nearest.setEnabled(self._away())

    def _away(self) -> bool:
        """Whether the piece has to move, and can."""
        return self._fit is not None and bool(self._fit.moves) and 0 not in self._fit.moves

    def _said(self, voice: Voice) -> str:
        piece = self._shown.piece
        self._fit = voice_fit(piece, voice)
        return voice_text(self._fit, voice, piece.shape_key())

    def _want(self) -> None:
        if self._fit is not None and self._fit.moves:
            self.wanted.emit(self._fit.moves[0])
