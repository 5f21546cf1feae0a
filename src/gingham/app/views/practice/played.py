"""Which stage of which piece is being practised, whatever else is shown by the time it is marked."""

from __future__ import annotations

import msgspec

from gingham.app.views.practice.desk import Desk
from gingham.core.pieces.piece import Section
from gingham.core.practice.plan import Planned
from gingham.core.practice.stages import Stage


class Begun(msgspec.Struct, frozen=True):
    """The plan in which something was begun, and the identity of the piece whose record it belongs to."""

    planned: Planned
    identity: str

    def is_shown(self, desk: Desk) -> bool:
        """Whether its piece is still the one that is shown."""
        document = desk.shown.document
        return document is not None and document.identity == self.identity


class Played(Begun, frozen=True):
    """A stage that was begun."""

    stage: Stage

    @property
    def section(self) -> Section:
        """The section that it lies in."""
        return self.planned.piece.sections[self.stage.section]

    def is_on(self, desk: Desk) -> bool:
        """Whether its piece is the one that is shown, and still has it."""
        return self.is_shown(desk) and desk.plan.stage(self.stage.id) is not None


def begun(desk: Desk) -> Begun:
    """Something that begins now, on the piece that is shown."""
    document = desk.shown.document
    assert document is not None
    return Begun(desk.plan, document.identity)


def stage_begun(desk: Desk, stage: Stage) -> Played:
    """A stage that begins now."""
    now = begun(desk)
    return Played(now.planned, now.identity, stage)
