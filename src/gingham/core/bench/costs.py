"""What another pattern costs in sound: thirds and roots that are heard no more, strings that fall silent."""

from __future__ import annotations

import msgspec

from gingham.core.fitting.result import FittedSpan, Result


class SoundCost(msgspec.Struct, frozen=True, gc=False):
    """Chords that lose their third, chords that lose their root, and the melody's string if it falls silent.

    The melody lies on the outermost string that is plucked (the lowest string number).
    """

    thirds: tuple[str, ...] = ()
    roots: tuple[str, ...] = ()
    melody: int | None = None

    @property
    def free(self) -> bool:
        """Whether nothing is lost."""
        return not self.thirds and not self.roots and self.melody is None


def sound_cost(before: Result, after: Result) -> SoundCost:
    """What is heard in `before` and no more in `after`: the same chords under two patterns."""
    thirds: dict[str, None] = {}
    roots: dict[str, None] = {}
    for old, new in zip(before.spans, after.spans, strict=True):
        if old.assignment is None:
            continue
        name = old.assignment.chord.text
        lost = set(old.heard) - set(new.heard)
        if "1" in lost:
            roots[name] = None
        if _third(old) in lost:
            thirds[name] = None
    top = min(_strings(before), default=None)
    return SoundCost(tuple(thirds), tuple(roots), None if top is None or top in _strings(after) else top)


def _third(fitted: FittedSpan) -> str | None:
    assert fitted.assignment is not None
    return next((str(d) for d in fitted.assignment.chord.degrees if d.number == 3), None)


def _strings(result: Result) -> set[int]:
    return {string for fitted in result.spans for string in fitted.strings}
