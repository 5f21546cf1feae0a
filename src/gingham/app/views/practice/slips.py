"""What a key says of a place that went wrong."""

from __future__ import annotations

from gingham.core.practice.attempt import Error, Spot
from gingham.core.practice.plan import Planned

SLIPS: dict[str, tuple[Error, ...]] = {"N": (), "E": ("uneven",), "S": ("strings",), "K": ("change",)}
"""Not clean, and why if the key says so."""


def slip_at(planned: Planned, place: tuple[int, int, float], letter: str) -> Spot:
    """A place (index of the section, bar, whole notes in it) that went wrong; a late change says which."""
    section, bar, inside = place
    name = planned.piece.sections[section].name
    error: Error = SLIPS[letter][0] if SLIPS[letter] else "time"
    change = _change_before(planned, section, bar, inside) if error == "change" else ""
    return Spot(name, bar, str(round(inside, 4)), error, change)


def _change_before(planned: Planned, section: int, bar: int, inside: float) -> str:
    """The last change of chord up to a place: `C > G/B`; empty before the first one."""
    result = planned.results.get(section)
    spans = result.spans if result is not None else ()
    before = [
        index for index, each in enumerate(spans) if (each.span.bar, float(each.span.at)) <= (bar, inside)
    ]
    if not before:
        return ""
    now = before[-1]
    names = [
        each.chord.text if each.chord is not None else "" for each in (spans[now - 1].span, spans[now].span)
    ]
    return " > ".join(names) if all(names) and names[0] != names[1] else ""
