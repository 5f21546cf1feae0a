"""A take that has been heard is an attempt in the record: at a section, or a run of the piece."""

from __future__ import annotations

from gingham.app.views.takes.hearing_job import HeardTake
from gingham.core.listening.verdict import verdict
from gingham.core.pieces.form import stage_id
from gingham.core.practice.attempt import Attempt
from gingham.core.practice.plan import Planned
from gingham.core.practice.stages import RUN


def attempt_of(taken: HeardTake, planned: Planned, identity: str) -> Attempt | None:
    """What the record keeps of a take; None for looped bars and for takes without a tempo."""
    facts, piece = taken.kept.facts, planned.piece
    asked = facts.asked
    if asked.free or asked.bars is not None:
        return None
    stage, mark, pattern = RUN, "", ""
    if asked.section is not None:
        found = planned.stage(stage_id(asked.section, "whole"))
        if found is None:
            return None
        stage, mark, pattern = found.id, found.mark, piece.sections[found.section].pattern
    said = verdict(taken.analysis)
    return Attempt(
        facts.made, identity, stage, mark, asked.tempo, said.clean, "run" if stage == RUN else "round",
        "tapped" if facts.taps else "heard", asked.section or "", pattern, "",
        str(piece.meter.tempo_beat), 1, facts.seconds, said.errors, said.spots, said.figures,
    )  # fmt: skip
