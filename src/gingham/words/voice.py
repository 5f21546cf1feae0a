"""A singer's voice against the tune, in words."""

from __future__ import annotations

from gingham.core.judging.voice import Voice, VoiceFit
from gingham.core.music.key import Key
from gingham.language import tr
from gingham.words.names import listed, signs

_NAMED = 4  # so many ways are named, the smallest moves


def voice_text(fit: VoiceFit | None, voice: Voice, key: Key) -> str:
    """Where the tune lies, whether the voice has it, and the keys (of the shapes) in which it does."""
    if fit is None:
        return tr(
            "No tune is written yet: give its notes on Form, and the keys that suit this voice stand here."
        )
    runs = tr(
        "The tune runs from {lowest} to {highest}", lowest=_note(fit.lowest), highest=_note(fit.highest)
    )
    if not fit.moves:
        wide, reach = fit.highest.midi - fit.lowest.midi, voice.highest.midi - voice.lowest.midi
        return tr(
            "{runs}: {wide} semitones, and this voice has {reach}. No key holds all of it.",
            runs=runs,
            wide=wide,
            reach=reach,
        )
    others = [_move(move, key) for move in fit.moves if move][:_NAMED]
    if 0 in fit.moves:
        return tr("{runs}: this voice has it as it is", runs=runs) + (
            tr("; also {others}.", others=listed(others)) if others else "."
        )
    return tr("{runs}, outside this voice. It lies in it {others}.", runs=runs, others=listed(others))


def _note(pitch: object) -> str:
    return signs(str(pitch))


def _move(move: int, key: Key) -> str:
    return tr(
        "{move} {way} (shapes in {up})",
        move=abs(move),
        way=tr("up") if move > 0 else tr("down"),
        up=signs(str(key.up(move))),
    )
