"""Which timbre a pluck has: string, body, what touches it, how strongly, and by whom. Each note is made once.

All numbers are our own, set by looking at spectra and envelopes; they are tables, so that ears can mend them.
"""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from gingham.core.pieces.piece import Piece
from gingham.core.sound.answer import answer
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import (
    GUITAR_BODY,
    NYLON_FINGER,
    NYLON_THUMB,
    STEEL_FINGER,
    STEEL_THUMB,
    UKULELE_BODY,
    Samples,
    Timbre,
    chuck,
    made,
)
from gingham.core.sound.timeline import SoundedNote
from gingham.core.values import replace

_NOTE_S = 5.0
_NYLON_NOTE_S = 3.0
_FOLLOW_THROUGH_CUTOFF = 1.5  # a longer stroke lets more high partials through
_LEVELS = (1.0, 1.25, 1.6)  # brightness by accent: a stronger stroke is brighter, not just louder
_SOFT = 0.7  # a hammer-on or pull-off has no plucking finger's edge
_WOUND = (1.15, 1.35, 1.4)  # a wound string: brighter at first, its high partials die sooner, stiffer


class Touch(msgspec.Struct, frozen=True, gc=False):
    """What meets the string: factors of brightness for thumb and fingers, a shift of the plucking point."""

    thumb: float
    fingers: float
    nearer_bridge: float = 0.0


TOUCHES = {
    "flesh": Touch(0.85, 0.8),
    "nail": Touch(0.95, 1.15, 0.02),
    "thumb-pick": Touch(1.5, 0.85, 0.01),
    "flat-pick": Touch(1.7, 1.7, 0.05),
}


class Kind(msgspec.Struct, frozen=True, gc=False):
    """The sounding instrument: nylon or steel, its body, what touches it, and its wound strings."""

    nylon: bool = False
    small: bool = False
    touch: str = "flesh"
    wound: frozenset[int] = frozenset({6, 5, 4})


def kind_of(piece: Piece) -> Kind:
    """The kind of instrument that a piece is heard on: its own strings unless the player wants others."""
    instrument, rules = piece.instrument, piece.rules
    nylon = instrument.nylon if rules.voice == "own" else rules.voice == "nylon"
    return Kind(nylon, instrument.strings <= 4, rules.touch, instrument.wound)


def timbre_of(kind: Kind, note: SoundedNote) -> Timbre:
    """The timbre of one note."""
    thumb = note.finger == "p" or note.soft
    base = (
        (NYLON_THUMB if thumb else NYLON_FINGER) if kind.nylon else (STEEL_THUMB if thumb else STEEL_FINGER)
    )
    touch = TOUCHES[kind.touch]
    bright = (touch.thumb if thumb else touch.fingers) * _LEVELS[min(2, note.level)]
    bright *= _FOLLOW_THROUGH_CUTOFF if note.bright else 1.0
    bright *= _SOFT if note.soft else 1.0
    damping, stiffness = base.damping_db, base.stiffness
    if note.string in kind.wound:
        bright, damping, stiffness = bright * _WOUND[0], damping * _WOUND[1], stiffness * _WOUND[2]
    return replace(
        base,
        cutoff_hz=base.cutoff_hz * bright,
        damping_db=damping,
        stiffness=stiffness,
        pluck_at=base.pluck_at - touch.nearer_bridge,
        body=UKULELE_BODY if kind.small else GUITAR_BODY,
    )


class VoiceBank(msgspec.Struct):
    """Plucked notes computed once each."""

    kind: Kind = msgspec.field(default_factory=Kind)
    rate_hz: int = RATE_HZ
    _known: dict[tuple[int | None, Timbre | None], tuple[Samples, float]] = msgspec.field(
        default_factory=dict
    )
    _answers: dict[tuple[int, Timbre, int, int], Samples | None] = msgspec.field(default_factory=dict)

    def note(self, note: SoundedNote) -> Samples:
        """Samples of a note with a peak of about 1, from the cache or computed now."""
        return self._made(note)[0]

    def answers(self, note: SoundedNote) -> Iterator[tuple[int, Samples]]:
        """The strings that answer a note, each with what it adds to the note's samples."""
        if note.midi is None or not note.free:
            return
        timbre, scale = timbre_of(self.kind, note), self._made(note)[1]
        for string, midi in note.free:
            key = (note.midi, timbre, string, midi)
            if string != note.string and key not in self._answers:
                own = timbre_of(self.kind, SoundedNote(0.0, string, midi, 1.0, ""))
                self._answers[key] = answer(note.midi, timbre, midi, own, scale, self.rate_hz)
            found = self._answers.get(key)
            if found is not None:
                yield string, found

    def _made(self, note: SoundedNote) -> tuple[Samples, float]:
        timbre = None if note.midi is None else timbre_of(self.kind, note)
        key = (note.midi, timbre)
        if key not in self._known:
            if note.midi is None or timbre is None:
                self._known[key] = (chuck(self.rate_hz), 1.0)
            else:
                length_s = _NYLON_NOTE_S if self.kind.nylon else _NOTE_S
                self._known[key] = made(note.midi, timbre, length_s, self.rate_hz)
        return self._known[key]
