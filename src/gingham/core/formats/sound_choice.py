"""What is heard in an exported sound."""

from __future__ import annotations

import msgspec


class SoundChoice(msgspec.Struct, frozen=True, gc=False):
    """Clicks (0–2), a count-in (one of timeline.COUNT_INS, or empty), and fingers that are silent."""

    clicks: int = 0
    count_in: str = ""
    muted: frozenset[str] = frozenset()


EVERYTHING = SoundChoice()
