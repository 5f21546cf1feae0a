"""The sentences of a take, and where each of them leads."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from gingham.app.session.shown import Shown
from gingham.app.sound.playing import Playing
from gingham.app.views.takes.hearing_job import HeardTake
from gingham.app.views.takes.view import TakesView
from gingham.core.listening.score import GOOD, REMARKS, bar_of
from gingham.core.listening.sitting import Tension
from gingham.language import tr
from gingham.words.listening import take_text
from gingham.words.notices import notice
from gingham.words.ringing import tension_text

_FIRST = 2  # what matters most; the rest stands below


class Saying(QObject):
    """Shows the sentences of a take; goes where they point, loops what they speak of."""

    went = Signal(int)
    """A bar of the take that a sentence speaks of."""
    notice = Signal(str)

    def __init__(self, view: TakesView, shown: Shown, playing: Playing, parent: QObject) -> None:
        super().__init__(parent)
        self._view, self._shown, self._playing = view, shown, playing
        self._taken: HeardTake | None = None

    def show_taken(
        self,
        taken: HeardTake | None,
        compared: list[str],
        tense: Tension | None,
        hand: list[str],
        thumb: list[str],
    ) -> None:
        """What is said of a take; before it the difference from another one, if that is asked for."""
        self._taken = taken
        if taken is None:
            self._view.sentences.fill([])
            return
        said = list(enumerate(taken.analysis.said))
        work = [(i, take_text(r)) for i, r in said if r.code not in GOOD | REMARKS]
        first = work[:_FIRST] or [(-1, tr("Nothing stood out. A little faster, or the next section?"))]
        self._view.sentences.fill(
            [
                (tr("Take care"), [(-1, tension_text(tense))] if tense is not None else []),
                (tr("Against the take before"), [(-1, words) for words in compared]),
                (tr("What held"), [(i, take_text(r)) for i, r in said if r.code in GOOD]),
                (tr("Work on"), first),
                (tr("Then"), [*work[_FIRST:], *((-1, words) for words in thumb)]),
                (tr("Your hand"), [(-1, words) for words in hand]),
                (tr("Good to know"), [(i, take_text(r)) for i, r in said if r.code in REMARKS]),
            ]
        )

    def _bar(self) -> int | None:
        number = self._view.sentences.number
        if self._taken is None or number < 0:
            return None
        return bar_of(self._taken.analysis.said[number], self._taken.analysis.marks)

    def go_there(self) -> None:
        """The picture to the place that the sentence speaks of."""
        bar = self._bar()
        if bar is not None:
            self.went.emit(bar)

    def drill(self) -> None:
        """Loop the bars that the sentence speaks of, a change with the bar before it."""
        bar = self._bar()
        if bar is None or self._taken is None:
            return
        reason = self._taken.analysis.said[self._view.sentences.number]
        played = next((each for each in self._taken.analysis.question.bars if each.number == bar), None)
        if played is None:
            return
        last = max(1, played.bar.number)
        first = max(1, last - 1) if reason.code == "take-change" else last
        self._shown.select_section(min(played.result.section, len(self._shown.piece.sections) - 1))
        self._playing.set_bars((first, last))
        bars = (
            tr("Bar {last} is", last=last)
            if first == last
            else tr("Bars {first}–{last} are", first=first, last=last)
        )
        self.notice.emit(notice("take-drill", bars=bars))
