"""The shown section on the three stringings of a ukulele, to be heard one after the other."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from gingham.app.session.shown import Shown
from gingham.app.sound.transport import Owner, Transport
from gingham.app.widgets.parts import button, head, plain
from gingham.app.work.worker import Job
from gingham.core.bench.stringings import STRINGINGS, Strung, stringings
from gingham.core.pieces.piece import Piece
from gingham.language import tr
from gingham.words.names import INSTRUMENT_NAMES
from gingham.words.tuning import strung_text

_HEARD_BARS = 2


class StringingRows(QWidget):
    """A button and the notes for each stringing; hidden where the instrument has no four strings."""

    def __init__(self, shown: Shown, transport: Transport) -> None:
        super().__init__()
        self._shown, self._transport = shown, transport
        self._asked: tuple[Piece, int, int] | None = None
        self.found: tuple[Strung, ...] = ()
        self.job = Job("stringings", self)
        self.job.done.connect(self._show_found)
        self.job.failed.connect(lambda _error: self._show_found(()))
        self.buttons: list[QPushButton] = []
        self.texts: list[QLabel] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 8, 0, 0)
        column.addWidget(head(tr("The same hand on other strings")))
        for number, name in enumerate(STRINGINGS):
            title = INSTRUMENT_NAMES[name]
            heard = button(
                title,
                tr("Two bars from this chord as they sound on: {title}", title=title),
                self._hear(number),
            )
            self.buttons.append(heard)
            self.texts.append(plain())
            column.addWidget(heard)
            column.addWidget(self.texts[-1])

    def refresh(self) -> None:
        """Work out the stringings for the chord under the cursor, unless that is what is shown."""
        piece, section, index = self._shown.piece, self._shown.section, self._shown.span_index()
        self.setVisible(piece.instrument.strings == 4)
        now = self._asked
        same = now is not None and now[0] is piece and now[1:] == (section, index)
        if piece.instrument.strings == 4 and not same:
            self._asked = (piece, section, index)
            self.job.start(lambda _tick: stringings(piece, section, index))

    def _show_found(self, found: tuple[Strung, ...]) -> None:
        self.found = found
        known = {each.instrument.id: each for each in found}
        for name, heard, text in zip(STRINGINGS, self.buttons, self.texts, strict=True):
            heard.setEnabled(name in known)
            text.setText(
                strung_text(known[name]) if name in known else tr("These shapes do not fit its neck.")
            )

    def _hear(self, number: int) -> Callable[[], None]:
        def hear() -> None:
            if self._transport.playing:
                self._transport.stop()
                return
            each = next((s for s in self.found if s.instrument.id == STRINGINGS[number]), None)
            if each is not None:
                tempo, bars = each.result.piece.tempo, (each.bar, _HEARD_BARS)
                self._transport.play_once([each.result], tempo, Owner.PATTERN, bars)

        return hear
