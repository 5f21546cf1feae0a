"""What the parts of Practise ask of the page that holds them together."""

from __future__ import annotations

from typing import Protocol

from PySide6.QtCore import QObject

from gingham.app.session.logbook import Logbook
from gingham.app.session.shown import Shown
from gingham.app.sound.playing import Playing
from gingham.app.views.practice.standing import StageStanding
from gingham.app.views.practice.view import PracticeView
from gingham.core.practice.plan import Planned
from gingham.core.practice.stages import Stage


class Desk(Protocol):
    """The page's view, what is shown and plays, the record, the plan, the chosen stage."""

    view: PracticeView
    shown: Shown
    playing: Playing
    logbook: Logbook
    standing: StageStanding
    plan: Planned

    @property
    def stage(self) -> Stage | None:
        """The chosen stage."""

    def tempo(self, stage: Stage) -> int:
        """The tempo at which a stage is played."""

    def to_ladder(self, stage: Stage) -> None:
        """The ladder decides on the tempo of a stage again."""

    def count_s(self, stage: Stage) -> int:
        """For how many seconds its changes are counted."""

    def choose_stage(self, id: str) -> None:
        """Choose a stage."""

    def say(self, words: str) -> None:
        """Say something quietly."""

    def as_parent(self) -> QObject:
        """Who owns the parts."""
