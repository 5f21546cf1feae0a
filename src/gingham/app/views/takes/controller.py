"""Takes: the shelf of the shown piece, each take heard off the interface thread and shown."""

from __future__ import annotations

import hashlib
import re
import shutil
from datetime import datetime
from pathlib import Path

from PySide6 import QtWidgets
from PySide6.QtCore import QObject, QSignalBlocker, Signal

from gingham.app.look.settings import Settings
from gingham.app.session.document import Document
from gingham.app.session.logbook import Logbook
from gingham.app.session.plans import Plans
from gingham.app.session.shown import Shown
from gingham.app.sound.playing import Playing
from gingham.app.views.takes import hearing_job as jobs
from gingham.app.views.takes.hearing_job import HeardTake
from gingham.app.views.takes.keeping import attempt_of
from gingham.app.views.takes.learned_hand import LearnedHand
from gingham.app.views.takes.replaying import Replaying
from gingham.app.views.takes.saying import Saying
from gingham.app.views.takes.taking import Taking
from gingham.app.views.takes.view import TakesView
from gingham.app.work.worker import Job
from gingham.core.errors import FileError, GinghamError
from gingham.core.listening.analysis import Analysis
from gingham.core.listening.shelf import Facts, Kept, Shelf
from gingham.core.listening.sitting import Evenness, tension, thumb_apart
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.errors import say
from gingham.words.notices import notice
from gingham.words.ringing import thumb_text
from gingham.words.takes import EMPTY, NOTHING_ASKED, asked_text, difference, found_again, take_lines

_MOST_HEARD = 6


class TakesController(QObject):
    """Joins the page with what is shown and with the shelf of takes."""

    notice = Signal(str)

    def __init__(
        self, view: TakesView, shown: Shown, playing: Playing, settings: Settings, folder: Path,
        plans: Plans, logbook: Logbook, parent: QObject,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.view, self.shown, self._folder = view, shown, folder
        self._plans, self._logbook = plans, logbook
        self.shelf = Shelf(folder)
        self._document: Document | None = None
        self.kept: list[Kept] = []
        self.taken: HeardTake | None = None
        """The take that is shown, once it has been heard."""
        self._heard: dict[int, HeardTake] = {}
        self.taking = Taking(view, shown, playing, settings, self)
        self.saying = Saying(view, shown, playing, self)
        self.hand = LearnedHand(view, shown, settings, self)
        self.replaying = Replaying(view, playing, self)
        self.listener = Job("take listener", self)
        for part in (self.taking, self.saying, self.replaying):
            part.notice.connect(self.notice)
        playing.loop_changed.connect(lambda _bars: self.taking.show_what())
        shown.settled.connect(self.refresh)
        self._connect()
        self._connect_hearing()

    def _connect(self) -> None:
        view = self.view
        view.record.clicked.connect(lambda _on: self.taking.record_or_stop())
        view.record_wanted.connect(self.taking.record_or_stop)
        view.takes.currentItemChanged.connect(lambda _now, _before: self._take_chosen())
        view.takes.delete_wanted.connect(self.ask_delete)
        view.delete.clicked.connect(lambda _on: self.ask_delete())
        view.save.clicked.connect(lambda _on: self.ask_save())
        view.file.clicked.connect(lambda _on: self.ask_file())
        view.file_dropped.connect(self.taking.take_file)
        view.name.editingFinished.connect(self.rename)
        view.go.clicked.connect(lambda _on: self.saying.go_there())
        view.sentences.go_wanted.connect(self.saying.go_there)
        view.drill.clicked.connect(lambda _on: self.saying.drill())
        view.sentences.drill_wanted.connect(self.saying.drill)
        view.compare.toggled.connect(lambda _on: self._show_sentences())
        view.compare_wanted.connect(view.compare.toggle)
        view.play.clicked.connect(lambda _on: self.play_or_stop())
        view.heard.play_wanted.connect(self.play_or_stop)
        view.heard.mark_chosen.connect(lambda _index: self._show_here())
        view.heard.place_marked.connect(self.mark_place)
        view.heard_chosen.connect(self.replaying.choose)

    def _connect_hearing(self) -> None:
        view = self.view
        view.cancel.clicked.connect(lambda _on: self.listener.stop())
        self.listener.done.connect(self._heard_now)
        self.listener.failed.connect(self._not_heard)
        self.listener.stopped.connect(self._given_up)
        self.listener.progressed.connect(lambda share: view.progress.setValue(round(100 * share)))
        self.taking.status.connect(view.status.setText)
        self.taking.taken.connect(self._taken)
        self.saying.went.connect(self._go_to)

    # A page of the window.

    @property
    def widget(self) -> TakesView:
        """The page."""
        return self.view

    def arrive(self) -> None:
        """The keyboard to the picture, or to Record while there is none."""
        (self.view.heard if self.taken is not None else self.view.record).setFocus()

    def end(self) -> None:
        """End every thread; what is being recorded is kept."""
        self.taking.close()
        self.listener.close()
        self.replaying.close()

    def play_or_stop(self) -> None:
        """Hear the take from the cursor's bar on, or stop."""
        self.replaying.play_or_stop()

    def refresh(self) -> None:
        """The takes of the piece that is shown now."""
        if self.shown.document is not self._document:
            self._change_piece()
        if self.view.isVisible():
            self.taking.show_what()

    def _change_piece(self) -> None:
        self._document = self.shown.document
        assert self._document is not None
        self._document.saved.connect(self._saved)
        self._heard.clear()
        self.shelf = self.taking.shelf = Shelf(self._folder / shelf_name(self._document))
        self.load(0)

    def _saved(self) -> None:
        """A piece that has a file now keeps its takes."""
        if self._document is not None and self.shown.document is self._document and not self.taking.busy:
            self.shelf.move(self._folder / shelf_name(self._document))
            self.load(self.view.takes.number)

    def _taken(self, shelf: Shelf, number: int) -> None:
        if shelf is self.shelf:
            self.load(number)

    # The list.

    def load(self, current: int) -> None:
        """The takes on the shelf; the newest is shown unless another is asked for."""
        self.kept = self.shelf.all()
        if self.shelf.faults:
            self.notice.emit(found_again(len(self.shelf.faults)))
        self.taking.name = tr("Take {number}", number=1 + max((kept.number for kept in self.kept), default=0))
        self._relist(current or (self.kept[0].number if self.kept else 0))
        self._take_chosen()

    def _relist(self, number: int) -> None:
        """The list with new words; what is shown stays."""
        today = datetime.now().astimezone().date()
        with QSignalBlocker(self.view.takes):
            self.view.takes.put([(kept.number, take_lines(kept, today)) for kept in self.kept], number)

    @property
    def chosen(self) -> Kept | None:
        """The take that is chosen in the list."""
        number = self.view.takes.number
        return next((kept for kept in self.kept if kept.number == number), None)

    def ask_file(self) -> None:
        """Choose a sound file as a take."""
        name, _ = QtWidgets.QFileDialog.getOpenFileName(
            self.view, tr("A take"), "", tr("Sound (*.wav *.flac)")
        )
        if name:
            self.taking.take_file(Path(name))

    def ask_save(self) -> None:
        """A copy of the chosen take, and its report beside it."""
        if self.chosen is None:
            return
        start = f"{self.chosen.facts.name}.flac"
        name, _ = QtWidgets.QFileDialog.getSaveFileName(
            self.view, tr("Save the take"), start, tr("FLAC (*.flac)")
        )
        if name:
            self.save_copy(Path(name))

    def save_copy(self, path: Path) -> None:
        """Copy the chosen take's sound, and its report as JSON."""
        kept = self.chosen
        if kept is None:
            return
        path = path if path.suffix else path.with_suffix(".flac")
        try:
            shutil.copyfile(kept.sound, path)
            report = self.shelf.report(kept)
            if report.exists():
                shutil.copyfile(report, path.with_suffix(".json"))
        except OSError as error:
            self.notice.emit(say(FileError("file-write", path=str(path), why=error.strerror or str(error))))

    def ask_delete(self) -> None:
        """Delete the chosen take, if it is meant."""
        kept = self.chosen
        if kept is None:
            return
        buttons = QtWidgets.QMessageBox.StandardButton
        text = tr("Delete {name} and its recording?", name=kept.facts.name)
        answer = QtWidgets.QMessageBox.question(
            self.view, tr("Delete the take?"), text, buttons.Yes | buttons.No, buttons.No
        )
        if answer == buttons.Yes:
            try:
                self.shelf.delete(kept)
            except FileError as error:
                self.notice.emit(say(error))
            self._heard.pop(kept.number, None)
            self.load(0)

    def rename(self) -> None:
        """The name that has been typed."""
        kept, name = self.chosen, self.view.name.text().strip()
        if kept is not None and name and name != kept.facts.name:
            self._update(kept, replace(kept.facts, name=name))
            self._relist(kept.number)

    def mark_place(self, bar: int, at: str) -> None:
        """A place marked by hand, or no longer."""
        kept = self.chosen
        if kept is not None:
            marked = tuple(sorted(set(kept.facts.marked) ^ {(bar, at)}))
            self._update(kept, replace(kept.facts, marked=marked))
            self.view.heard.show_marked(frozenset(marked))

    def _update(self, kept: Kept, facts: Facts, report: bytes | None = None) -> None:
        try:
            now = self.shelf.update(kept, facts, report)
        except FileError as error:
            self.notice.emit(say(error))
            return
        self.kept = [now if each.number == kept.number else each for each in self.kept]

    # Hearing.

    def _take_chosen(self) -> None:
        kept = self.chosen
        self.listener.forget()
        self._show_hearing(False)
        for part in (self.view.name, self.view.save, self.view.delete, self.view.compare):
            part.setEnabled(kept is not None)
        self.view.name.setText(kept.facts.name if kept is not None else "")
        if kept is None:
            typed = any(section.chords.bars for section in self.shown.piece.sections)
            self._show_nothing(EMPTY if typed else NOTHING_ASKED, "")
        elif kept.number in self._heard:
            self._show_taken(self._heard[kept.number])
        else:
            self._show_nothing(tr("Hearing it…"), tr("Hearing {name}…", name=kept.facts.name))
            self._show_hearing(True)
            piece = self.shown.piece
            self.listener.start(lambda tick: jobs.heard_take(piece, kept, tick))

    def _show_hearing(self, on: bool) -> None:
        self.view.progress.setValue(0)
        self.view.progress.setVisible(on)
        self.view.cancel.setVisible(on)

    def _heard_now(self, taken: HeardTake) -> None:
        self._show_hearing(False)
        analysis = taken.analysis
        while len(self._heard) >= _MOST_HEARD:
            del self._heard[next(iter(self._heard))]
        self._heard[taken.kept.number] = taken
        kept = self.chosen
        if kept is None or kept.number != taken.kept.number:
            return
        mark, (held, total) = analysis.question.mark, analysis.held
        facts = replace(
            kept.facts, mark=kept.facts.mark or mark, held=held, total=total,
            tempo=round(analysis.report.tempo, 1), fault="", spread_ms=analysis.report.spread_ms,
            spread_db=analysis.report.spread_db, gaps=taken.gaps, thumb_db=analysis.report.dynamics.thumb_db,
        )  # fmt: skip
        if not kept.facts.mark:
            self._keep(taken)
        if facts != kept.facts:
            self._update(kept, facts, taken.report)
            self._relist(kept.number)
        self._show_taken(taken)
        if facts.mark != mark:
            self.view.status.setText(notice("take-changed"))

    def _keep(self, taken: HeardTake) -> None:
        """A take that is heard for the first time goes into the record."""
        document = self.shown.document
        if document is None or not self._plans.refresh() or self._plans.planned is None:
            return
        attempt = attempt_of(taken, self._plans.planned, document.identity)
        if attempt is not None:
            self._logbook.add(attempt)

    def _not_heard(self, error: GinghamError) -> None:
        self._show_hearing(False)
        kept = self.chosen
        if kept is not None and not kept.facts.fault:
            self._update(kept, replace(kept.facts, fault=error.code))
            self._relist(kept.number)
        self._show_nothing(say(error), notice("take-not-heard"))

    def _given_up(self) -> None:
        self._show_hearing(False)
        self._show_nothing(notice("take-given-up"), "")

    def _show_nothing(self, picture: str, status: str) -> None:
        self.view.heard.empty = picture
        self._show_taken(None)
        self.view.status.setText(status)

    def _show_taken(self, taken: HeardTake | None) -> None:
        self.taken = self.replaying.taken = taken
        analysis = taken.analysis if taken is not None else None
        view, kept = self.view, self.chosen
        view.heard.show_analysis(analysis)
        self.hand.show_takes([each.facts for each in self.kept], taken)
        view.heard.show_marked(frozenset(kept.facts.marked if kept is not None else ()))
        for part in (view.play, view.which, view.go, view.drill):
            part.setEnabled(taken is not None)
        if kept is not None and taken is not None:
            view.status.setText(f"{kept.facts.name}: {asked_text(kept.facts)}")
        self._show_sentences()
        self._show_here()

    def _show_sentences(self) -> None:
        compared, before = self._compared() if self.view.compare.isChecked() else ([], None)
        view, now = self.view, self.taken.analysis if self.taken is not None else None
        for picture in (view.places, view.changes, view.tempo, view.loud):
            picture.show_analysis(now, before)
        self.saying.show_taken(self.taken, compared, tension(self._sitting()), self.hand.words, self._thumb())

    def _sitting(self) -> list[Evenness]:
        """What the takes up to the shown one show, keys apart: they have no loudness."""
        number = self.view.takes.number
        facts = [kept.facts for kept in self.kept if kept.number <= number and not kept.facts.taps]
        return [Evenness(each.made, each.spread_db, each.spread_ms) for each in facts if each.spread_ms]

    def _thumb(self) -> list[str]:
        """The thumb against the takes before, where it is another one now."""
        now = self.taken.analysis.report.dynamics.thumb_db if self.taken is not None else None
        number = self.view.takes.number
        facts = [kept.facts.thumb_db for kept in self.kept if kept.number < number]
        before = [each for each in facts if each is not None]
        apart = thumb_apart(before, now) if now is not None else None
        return [thumb_text(apart, len(before))] if apart is not None else []

    def _compared(self) -> tuple[list[str], Analysis | None]:
        """The difference from the take before this one, once both have been heard, and that take."""
        taken = self.taken
        if taken is None:
            return [], None
        earlier = [kept for kept in self.kept if kept.number < taken.kept.number]
        if not earlier:
            return [tr("There is no take before this one.")], None
        before = self._heard.get(earlier[0].number)
        if before is None:
            return [
                tr("Choose {name} first, so that it is heard; then come back.", name=earlier[0].facts.name)
            ], None
        return difference(before.analysis, taken.analysis), before.analysis

    def _go_to(self, bar: int) -> None:
        self.view.heard.choose_bar(bar)
        self.view.heard.setFocus()
        self._show_here()

    def _show_here(self) -> None:
        heard = self.view.heard
        self.view.here.setText(heard.words())
        if heard.current >= 0:
            self.view.area.ensureVisible(round(heard.x_of_cursor()), 0, 160, 0)


def shelf_name(document: Document) -> str:
    """The folder of a piece's takes: its file's name and a mark of where it is; its title while unsaved."""
    if document.path is not None:
        where = hashlib.sha256(str(document.path.resolve()).encode()).hexdigest()[:8]
        return f"{_plain(document.path.stem)}-{where}"
    return f"unsaved-{_plain(document.piece.title)}"


def _plain(text: str) -> str:
    return re.sub(r"[^A-Za-z0-9]+", "-", text).strip("-").lower()[:40] or "piece"
