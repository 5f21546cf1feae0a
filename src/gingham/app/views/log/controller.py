"""The Log: reads the record for its pictures, keeps notes, and hands the record out or deletes of it."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import NamedTuple

from PySide6 import QtWidgets
from PySide6.QtCore import QObject, QSignalBlocker, Signal

from gingham.app.session.logbook import Logbook
from gingham.app.session.plans import Plans
from gingham.app.session.shown import Shown
from gingham.app.views.log.deleting import ask_range
from gingham.app.views.log.pictures import KIND_GROUPS, NamedLine, PlannedPart
from gingham.app.views.log.view import LogView
from gingham.core.errors import FileError
from gingham.core.formats.atomic import write_atomically
from gingham.core.practice.attempt import Attempt
from gingham.core.practice.entries import Note, Record, resting
from gingham.core.practice.history import history
from gingham.core.practice.plan import Planned
from gingham.core.practice.record_text import attempts_csv, record_json
from gingham.core.practice.review import clean_changes, due, kinds_wrong, streak
from gingham.core.practice.session import Hand, ladders, plan_session, worth_reviewing
from gingham.core.practice.summary import days_of, places_wrong, recently_wrong, tempo_lines, tuned_first
from gingham.language import tr
from gingham.words import log as words
from gingham.words.errors import printable, say
from gingham.words.names import signs
from gingham.words.notices import notice
from gingham.words.practice import ERROR_NAMES, item_text, plan_text, stage_name
from gingham.words.progress import NO_PLAN, RESTING, due_text, note_text

_DAYS, _LINES, _DUE, _NOTES = 21, 5, 3, 3
_USUAL_MINUTES = 20


class _Asked(NamedTuple):
    """What the pictures show: the record, the plan, the day, and what is chosen on the page."""

    record: Record
    planned: Planned
    today: date
    choices: tuple[object, ...]

    def same(self, record: Record, planned: Planned, today: date, choices: tuple[object, ...]) -> bool:
        """Whether nothing is another one."""
        known = self.record is record and self.planned is planned
        return known and (self.today, self.choices) == (today, choices)


class LogController(QObject):
    """Joins the page with the record."""

    notice = Signal(str)
    session_wanted = Signal(int)
    """A session of so many minutes is to begin."""
    report_wanted = Signal()

    def __init__(self, view: LogView, shown: Shown, plans: Plans, logbook: Logbook, parent: QObject) -> None:
        super().__init__(parent)
        self.view, self.shown, self.plans, self.logbook = view, shown, plans, logbook
        self._asked: _Asked | None = None
        view.minutes.setValue(_USUAL_MINUTES)
        view.start.clicked.connect(lambda _on: self.start())
        view.start_wanted.connect(self.start)
        view.minutes.valueChanged.connect(lambda _minutes: self.show())
        view.scope.activated.connect(lambda _index: self.show())
        view.section.activated.connect(lambda _index: self.show())
        view.note.returnPressed.connect(self.keep_note)
        view.save.clicked.connect(lambda _on: self.ask_save())
        view.backup.clicked.connect(lambda _on: self.ask_backup())
        view.delete.clicked.connect(lambda _on: self.ask_delete())
        view.report.clicked.connect(lambda _on: self.report_wanted.emit())
        shown.settled.connect(self.refresh)
        plans.changed.connect(self.refresh)
        logbook.changed.connect(lambda _added: self.refresh())

    # A page of the window.

    @property
    def widget(self) -> LogView:
        """The page."""
        return self.view

    def arrive(self) -> None:
        """The keyboard to Start."""
        self.logbook.load()
        self.view.start.setFocus()

    def end(self) -> None:
        """Nothing runs here."""

    def refresh(self) -> None:
        """The record and the plan as they are now."""
        if self.view.isVisible():
            self.plans.refresh()
            self.show()

    # Showing.

    @property
    def _piece(self) -> str:
        document = self.shown.document
        return document.identity if document is not None else ""

    def attempts(self) -> list[Attempt]:
        """The attempts that are shown: of this piece, or of all."""
        if self.view.scope.currentData() == "all":
            return list(self.logbook.record.attempts)
        return self.logbook.attempts(self._piece)

    def show(self) -> None:
        """Every picture."""
        planned = self.plans.planned if self.plans.fresh else None
        if planned is None or not self.view.isVisible():
            return
        today = self.logbook.clock().date()
        choices = (self.view.scope.currentData(), self.view.section.currentText(), self.view.minutes.value())
        if self._asked is not None and self._asked.same(self.logbook.record, planned, today, choices):
            return  # the page was left and has come back
        attempts = self.attempts()
        for picture in (self.view.today, self.view.tempo, self.view.days, self.view.wrong):
            picture.today = today
        self._show_today(planned)
        self._show_tempi(planned, attempts)
        self._show_days(planned, attempts)
        self._show_wrong(planned, attempts)
        self._show_words(attempts)
        chosen = (choices[0], self.view.section.currentText(), choices[2])
        self._asked = _Asked(self.logbook.record, planned, today, chosen)

    def _show_today(self, planned: Planned) -> None:
        today, own = self.logbook.clock().date(), history(self.logbook.attempts(self._piece))
        rests = resting(self.logbook.record.notes)
        minutes = self.view.minutes.value()
        standing = ladders(planned, own, today)
        items = plan_session(minutes, planned, own, today, Hand(rests=rests), standing)
        parts = [
            PlannedPart(
                item.minutes,
                KIND_GROUPS.get(item.kind, "rest"),
                item_text(item, planned.stage(item.stage)),
                plan_text(item.why) if item.stage else "",
            )
            for item in items
        ]
        self.view.today.show_parts(parts, minutes, RESTING if rests else NO_PLAN)
        self.view.start.setEnabled(bool(items))
        found = [(stage, due(stage, own)) for stage in worth_reviewing(planned, standing)]
        ready = sorted(((d.on, stage, d) for stage, d in found if d is not None), key=lambda each: each[0])
        lines = [f"{stage_name(stage)}, {due_text(d, today)}" for _, stage, d in ready[:_DUE]]
        self.view.due.setText("; ".join(lines))

    def _show_tempi(self, planned: Planned, attempts: list[Attempt]) -> None:
        stages = {stage.id: stage for stage in planned.stages}
        marks = {} if self.view.scope.currentData() == "all" else {s.id: s.mark for s in planned.stages}
        lines = []
        for line in tempo_lines(attempts, marks, _LINES):
            stage = stages.get(line.stage)
            name = stage_name(stage) if stage is not None else line.stage
            lines.append(NamedLine(name, stage.group if stage is not None else "whole", line.days))
        goal = planned.piece.tempo if self.view.scope.currentData() != "all" else 0
        self.view.tempo.show_lines(lines, goal)

    def _show_days(self, planned: Planned, attempts: list[Attempt]) -> None:
        groups = {stage.id: stage.group for stage in planned.stages}
        today = self.logbook.clock().date()
        days = days_of(attempts, self.logbook.record.sessions, groups, today, _DAYS)
        self.view.days.show_days(days)
        last = next((day for day in reversed(days) if day.total), None)
        tuned = words.tuned_words(*tuned_first(attempts, self.logbook.record.ticks, 5))
        said = [words.day_words(last, today) if last is not None else words.EMPTY, tuned]
        said.append(words.streak_words(*streak(attempts)))
        self.view.said.setText("\n".join(line for line in said if line))

    def _show_wrong(self, planned: Planned, attempts: list[Attempt]) -> None:
        names = [section.name for section in planned.piece.sections]
        box = self.view.section
        if [box.itemText(index) for index in range(box.count())] != names:
            with QSignalBlocker(box):
                box.clear()
                box.addItems(names)
                box.setCurrentIndex(self.shown.section)
        index = max(0, box.currentIndex())
        result = planned.results.get(index)
        bars = [bar.number for bar in result.bars] if result is not None else []
        self.view.wrong.show_bars(names[index], bars, recently_wrong(attempts, names[index]))
        starts = result.pattern.starts[:-1] if result is not None else ()
        places = places_wrong(attempts, names[index], starts)
        self.view.places.setText(words.places_words(places, planned.piece.meter))

    def _show_words(self, attempts: list[Attempt]) -> None:
        today = self.logbook.clock().date()
        counted = [a for a in attempts if a.kind == "count"]
        changes = dict.fromkeys(attempt.change for attempt in reversed(counted))
        parts = [
            words.counts_words(change, clean_changes([a for a in counted if a.change == change])[-5:])
            for change in list(changes)[:1]
        ]
        kinds = kinds_wrong(attempts[-200:])
        parts.append(words.kinds_words(dict(kinds.most_common(4)), ERROR_NAMES))
        self.view.status.setText("  ·  ".join(part for part in parts if part))
        own = [note for note in self.logbook.record.notes if note.text or note.kind == "hurt"]
        self.view.notes.setText("\n".join(note_text(note, today) for note in own[: -_NOTES - 1 : -1]))

    # Doing.

    def start(self) -> None:
        """The session begins on Practise."""
        self.session_wanted.emit(self.view.minutes.value())

    def keep_note(self) -> None:
        """The player's own words, with the day."""
        text = self.view.note.text().strip()
        if text:
            self.logbook.add(Note(self.logbook.today(), "note", text, self._piece))
            self.view.note.clear()

    def ask_save(self) -> None:
        """Ask for a file; its suffix says which form."""
        kinds = tr("Table of attempts (*.csv);;Everything (*.json)")
        name, _ = QtWidgets.QFileDialog.getSaveFileName(
            self.view, tr("Save the record"), "practice.csv", kinds
        )
        if name:
            self.save(Path(name))

    def save(self, path: Path) -> None:
        """The record as CSV or JSON, of what is shown."""
        record = self.logbook.record
        data = record_json(record) if path.suffix.lower() == ".json" else attempts_csv(record).encode()
        try:
            write_atomically(path if path.suffix else path.with_suffix(".csv"), data)
        except FileError as error:
            self.notice.emit(say(error))
            return
        self.notice.emit(notice("written", path=printable(path)))

    def ask_backup(self) -> None:
        """Ask for a file for a whole copy."""
        name, _ = QtWidgets.QFileDialog.getSaveFileName(
            self.view, tr("Back up the record"), "practice-backup.sqlite", tr("Record (*.sqlite)")
        )
        if name:
            path = Path(name)
            self.logbook.back_up(path, lambda: self.notice.emit(notice("written", path=printable(path))))

    def ask_delete(self) -> None:
        """Ask for a range of days, and again whether it is meant."""
        scope = self.view.scope.currentData()
        piece = None if scope == "all" else self._piece
        chosen = ask_range(self.view, [a.made[:10] for a in self.attempts()], self.logbook.today()[:10])
        if chosen is None:
            return
        begin, end = chosen
        count = sum(begin <= attempt.made[:10] <= end for attempt in self.attempts())
        buttons = QtWidgets.QMessageBox.StandardButton
        text = words.delete_question(count, begin, end, words.SCOPES[scope])
        answer = QtWidgets.QMessageBox.question(
            self.view, tr("Delete?"), signs(text), buttons.Yes | buttons.No, buttons.No
        )
        if answer == buttons.Yes:
            self.logbook.delete(begin, end, piece)
