"""Stages of practice that a teacher, or the player, has put into the piece: one line each.

`Verse 3-4 pi @60: the thumb leads` is bars 3 and 4 of the verse, thumb and index, from 60 beats a minute.
Bars, fingers and tempo may be left out.
"""

from __future__ import annotations

import re

import msgspec

from gingham.core.errors import EditError
from gingham.core.numbers import whole
from gingham.core.pieces.tempo import FASTEST_BPM, SLOWEST_BPM
from gingham.core.values import replace

MOST_STAGES, LONGEST = 200, 200
_MOST_BARS = 10_000
_BARS = re.compile(r"([0-9]{1,9})(?:-([0-9]{1,9}))?")
_FINGERS = re.compile(r"[pimac]{1,5}")


class OwnStage(msgspec.Struct, frozen=True, gc=False):
    """A stage of the piece's own: `first` 0 is the whole section, no `fingers` are all, `tempo` 0 is none."""

    section: str
    text: str
    first: int = 0
    last: int = 0
    fingers: str = ""
    tempo: int = 0

    def __str__(self) -> str:
        bars = "" if not self.first else f" {self.first}-{self.last}"
        if self.first and self.first == self.last:
            bars = f" {self.first}"
        fingers = f" {self.fingers}" if self.fingers else ""
        tempo = f" @{self.tempo}" if self.tempo else ""
        return f"{self.section}{bars}{fingers}{tempo}: {self.text}"


def parse_own_stage(line: str, sections: tuple[str, ...]) -> OwnStage:
    """Read one line; `sections` are the names that the piece has.

    Raises
    ------
    EditError
        `own-stage-text` without words behind a colon, `own-stage-section`, `own-stage-word` for what means
        nothing, `own-stage-bars` for bars that run backwards.
    NumberError
        For a tempo or a bar out of bounds.
    """
    if len(line) > LONGEST:
        raise EditError("own-stage-long", most=LONGEST)
    head, colon, text = line.partition(":")
    if not colon or not text.strip():
        raise EditError("own-stage-text")
    named = [name for name in sections if head.strip() == name or head.startswith(f"{name} ")]
    if not named:
        raise EditError("own-stage-section", known=sections)
    name = max(named, key=len)
    stage = OwnStage(name, " ".join(text.split()))
    for word in head.strip().removeprefix(name).split():
        stage = _with_word(stage, word)
    return stage


def _with_word(stage: OwnStage, word: str) -> OwnStage:
    bars = _BARS.fullmatch(word)
    if bars is not None:
        first = whole(bars[1], 1, _MOST_BARS)
        last = whole(bars[2] or bars[1], 1, _MOST_BARS)
        if last < first:
            raise EditError("own-stage-bars", first=first, last=last)
        return replace(stage, first=first, last=last)
    if word.startswith("@"):
        return replace(stage, tempo=whole(word[1:], SLOWEST_BPM, FASTEST_BPM))
    if _FINGERS.fullmatch(word):
        return replace(stage, fingers="".join(f for f in "pimac" if f in word))
    raise EditError("own-stage-word", word=word)


def stages_renamed(stages: tuple[OwnStage, ...], old: str, new: str) -> tuple[OwnStage, ...]:
    """The stages with a section of theirs under another name."""
    return tuple(replace(s, section=new) if s.section == old else s for s in stages)
