"""The panel of reasons: why each string, what is heard, what is in the way, how fast, which exceptions."""

from __future__ import annotations

from textwrap import wrap

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.session.fitter import Verdict
from gingham.app.widgets.labels import LongText
from gingham.app.widgets.parts import on_button
from gingham.core.fitting.result import Result
from gingham.core.judging.speed import FASTEST_BPM, Limit
from gingham.core.pieces.piece import Override
from gingham.language import tr
from gingham.words.actions import with_keys
from gingham.words.bench import bench_text, fix_text
from gingham.words.panel import PanelLine, asleep_text, chord_lines, override_text
from gingham.words.reasons import spot_text


def _plain(words: str) -> str:
    """Words inside marks of HTML."""
    from html import escape  # brings 2,231 names: not before there is something to say

    return escape(words, quote=False)


class ReasonsPanel(Dressed, QFrame):
    """Plain words for the selected chord."""

    rule_wanted = Signal(object)
    """An exception that shall go back to the rule."""
    fix_wanted = Signal()
    """The change that raises the top speed shall be made."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.words = LongText()
        self.speed = self._label()
        self._exceptions = QVBoxLayout()
        self._exceptions.setSpacing(4)
        inner = QWidget()
        inner.setObjectName("reasons")
        column = QVBoxLayout(inner)
        column.setContentsMargins(12, 8, 10, 8)
        column.setSpacing(10)
        column.addWidget(self.words)
        column.addLayout(self._exceptions)
        column.addStretch(1)
        self.scroll_area = QScrollArea()
        self.scroll_area.setAccessibleName(tr("Reasons for the selected chord"))
        self.scroll_area.setWidgetResizable(True)
        self.scroll_area.setFrameShape(QFrame.Shape.NoFrame)
        self.scroll_area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.scroll_area.setWidget(inner)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(1, 1, 1, 1)
        outer.addWidget(self.scroll_area, 1)
        self.speed.setContentsMargins(12, 4, 10, 4)
        outer.addWidget(self.speed)
        self.fix = QPushButton()
        self.fix.setAccessibleName(tr("Make it easier"))
        self.fix.setToolTip(
            with_keys(tr("The one change that raises the comfortable top speed most"), "faster-hand")
        )
        self.fix.clicked.connect(lambda _on: self.fix_wanted.emit())
        self.fix.hide()
        self.monotony = self._label()
        self.monotony.hide()
        below = QVBoxLayout()
        below.setContentsMargins(10, 0, 10, 8)
        below.addWidget(self.fix)
        below.addWidget(self.monotony)
        outer.addLayout(below)

    @staticmethod
    def _label() -> QLabel:
        label = QLabel()
        label.setTextFormat(Qt.TextFormat.RichText)
        label.setWordWrap(True)
        label.setAlignment(Qt.AlignmentFlag.AlignTop)
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        return label

    def restyle(self) -> None:
        """The next result brings the colours into the words."""

    def show_chord(self, result: Result, span: int) -> None:
        """The reasons of one chord, the exceptions of the piece."""
        if result.spans:
            lines = chord_lines(result, min(span, len(result.spans) - 1), self.theme.naming)
            self.words.setText("".join(map(self._html, lines)))
        else:
            self.words.setText(
                tr(
                    "Here Gingham says, for each chord you type, which strings the thumb and the fingers "
                    "take, and why."
                )
            )
        self._show_exceptions(result.piece.overrides, frozenset(result.asleep))

    def show_limit(self, result: Result, limit: Limit) -> None:
        """The limit of the picking hand; what would raise it comes with the verdict."""
        self._show_speed(result, limit)
        self.fix.hide()
        self.monotony.hide()

    def show_verdict(self, verdict: Verdict) -> None:
        """The limit of both hands, what would raise it, and whether the bars are all alike."""
        self._show_speed(verdict.result, verdict.limit)
        fix, same = verdict.fix, verdict.monotony
        self.fix.setVisible(fix is not None)
        if fix is not None:
            words = fix_text(fix)
            lines = wrap(words.replace(" → ", "\u00a0→\u00a0"), 32)
            self.fix.setText(on_button("\n".join(lines)))
            self.fix.setAccessibleName(words)
        self.monotony.setVisible(same is not None)
        if same is not None:
            self.monotony.setText(self._quiet(_plain(bench_text(same))))

    def _html(self, line: PanelLine) -> str:
        ink = {"quiet": self.theme.quiet, "fault": self.theme.fault}.get(line.kind, self.theme.ink)
        text = _plain(line.text)
        if line.kind == "head":
            return f"<p style='margin:0 0 6px 0; font-size:15px'><b>{text}</b></p>"
        why = self._quiet(f"<br>{_plain(line.why)}") if line.why else ""
        mark = "<b>!</b> " if line.kind == "fault" else ""
        return f"<p style='margin:0 0 6px 0; line-height:88%; color:{ink}'>{mark}{text}{why}</p>"

    def _quiet(self, html: str) -> str:
        return f"<span style='color:{self.theme.quiet}'>{html}</span>"

    def _show_speed(self, result: Result, limit: Limit) -> None:
        self.speed.setVisible(bool(limit.spots))
        over = result.piece.tempo > limit.tempo
        ink = self.theme.fault if over else self.theme.accent
        most = f"{limit.tempo}+" if limit.tempo >= FASTEST_BPM else str(limit.tempo)
        spots = [spot_text(spot) for spot in limit.spots]
        self.speed.setToolTip(tr("What sets it:\n") + "\n".join(spots))
        spot = f"<br>{_plain(spots[0])}" if spots else ""
        warn = ""
        if over:
            warn = tr(
                "<br><span style='color:{ink}'>The tempo {tempo} is above it. Go slower first, and "
                "stop at pain.</span>",
                ink=ink,
                tempo=result.piece.tempo,
            )
        self.speed.setText(
            tr(
                "<span style='font-size:22px; color:{ink}'><b>{most}</b></span> beats/min, "
                "comfortable top speed<span style='color:{quiet}'>{spot}</span>{warn}",
                ink=ink,
                most=most,
                quiet=self.theme.quiet,
                spot=spot,
                warn=warn,
            )
        )

    def _show_exceptions(self, overrides: tuple[Override, ...], asleep: frozenset[Override]) -> None:
        while self._exceptions.count():
            item = self._exceptions.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.setParent(None)
                widget.deleteLater()
        if overrides:
            head = QLabel(tr("Your exceptions"))
            head.setProperty("head", True)
            self._exceptions.addWidget(head)
        for override in overrides:
            words = override_text(override)
            if override in asleep:
                words += f" ({asleep_text(1)})"
            label = QLabel(words)
            label.setWordWrap(True)
            button = QPushButton(tr("Back to the rule"))
            button.setAccessibleName(tr("Back to the rule: {words}", words=words))
            button.clicked.connect(lambda _on=False, override=override: self.rule_wanted.emit(override))
            self._exceptions.addWidget(label)
            self._exceptions.addWidget(button, alignment=Qt.AlignmentFlag.AlignLeft)
