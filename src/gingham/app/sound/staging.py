"""What a stage of practice sounds like: its passages one after the other, only what it asks for."""

from __future__ import annotations

from collections.abc import Mapping
from functools import reduce

from gingham.core.fitting.result import Result
from gingham.core.practice.stages import Stage, heard_in
from gingham.core.sound.timeline import Timeline, cut, joined, timeline
from gingham.core.values import replace


def line_of(stage: Stage, results: Mapping[int, Result]) -> Timeline:
    """One round of a stage; a chord is called where it comes first in the round."""
    lines = {section: timeline([result]) for section, result in heard_in(stage, results).items()}
    parts = [cut(lines[p.section], float(p.begin), float(p.end)) for p in stage.passages]
    whole = reduce(joined, parts)
    begins, called = 0.0, list[tuple[float, float, int, int]]()
    for part in parts:
        inside = [entry for entry in whole.changes if begins <= entry[0] < begins + part.length]
        for index, (at, call, section, span) in enumerate(inside):
            first = part is not parts[0] and index == 0
            called.append(
                (at, max(0.0, begins - part.length) if first and at == begins else call, section, span)
            )
        begins += part.length
    return replace(whole, changes=tuple(called))
