"""Which stage of which piece is being practised, whatever else is shown by the time it is marked."""

from __future__ import annotations

import msgspec

from gingham.app.views.practice.desk import Desk
from gingham.core.pieces.piece import Section
from gingham.core.practice.plan import Planned
from gingham.core.practice.stages import Stage


class Played(msgspec.Struct, frozen=True):
    """A stage, the plan that it was begun in, and the identity of the piece whose record it belongs to."""

    stage: Stage
    planned: Planned
    identity: str

    @property
    def section(self) -> Section:
        """The section that it lies in."""
        return self.planned.piece.sections[self.stage.section]

    def is_on(self, desk: Desk) -> bool:
        """Whether its piece is the one that is shown, and still has it."""
        document = desk.shown.document
        there = document is not None and document.identity == self.identity
        return there and desk.plan.stage(self.stage.id) is not None


def begun(desk: Desk, stage: Stage) -> Played:
    """A stage that begins now."""
    document = desk.shown.document
    assert document is not None
    return Played(stage, desk.plan, document.identity)
