"""What the Takes page does off the interface thread: hear takes, make what is listened to."""

from __future__ import annotations

import io
from pathlib import Path

import msgspec

from gingham.app.work.worker import Tick
from gingham.core.fitting.cache import FitCache
from gingham.core.listening.analysis import Analysis, analyse
from gingham.core.listening.asked import Asked, question
from gingham.core.listening.replay import as_meant, as_played, together
from gingham.core.listening.shelf import Kept
from gingham.core.listening.simulate import BOUNDS, read_fault, simulate
from gingham.core.listening.sounds import Sound, read_sound
from gingham.core.listening.spectra import Floats
from gingham.core.pieces.piece import Piece
from gingham.words.take_answer import listen_answer

USUAL_FAULTS = "jitter=7 gallop=28 hesitate=140 missed=1 wrong=1"
"""How the simulated player errs until the settings say otherwise."""
_ROUNDS = 2


class HeardTake(msgspec.Struct, frozen=True):
    """A take that has been heard: its sound, all that is known of it, its report as JSON."""

    kept: Kept
    sound: Sound
    analysis: Analysis
    report: bytes

    def samples(self, which: str) -> Floats:
        """What is listened to: `take`, `plan` (in the player's own beat) or `both`."""
        played = as_played(self.sound)
        if which == "take":
            return played
        meant = as_meant(self.analysis, self.sound.seconds)
        return meant if which == "plan" else together(played, meant)


def heard_take(piece: Piece, kept: Kept, tick: Tick) -> HeardTake:
    """Hear a take. FileError or TakeError if that cannot be."""
    sound = read_sound(kept.sound)
    analysis = analyse(piece, kept.facts.asked, sound, tick)
    answer = listen_answer(
        sound, analysis.hearing, analysis.report, analysis.question.plan, 0.0, free=kept.facts.asked.free
    )
    return HeardTake(kept, sound, analysis, msgspec.json.encode(answer) + b"\n")


def file_as_flac(path: Path) -> tuple[bytes, float]:
    """A sound file in mono as FLAC, and how long it lasts. FileError if it cannot be read."""
    import soundfile

    sound = read_sound(path)
    out = io.BytesIO()
    soundfile.write(out, sound.samples, sound.rate, format="FLAC", subtype="PCM_16")
    return out.getvalue(), sound.seconds


def simulated(piece: Piece, asked: Asked, faults: str, seed: int) -> Floats:
    """What the simulated player plays of it: two rounds of a section, or the whole form."""
    rounds = 1 if asked.section is None else _ROUNDS
    made = question(piece, asked, rounds, FitCache())
    known = dict(read_fault(word) for word in faults.split() if word.partition("=")[0] in BOUNDS)
    return simulate(piece, made.plan, known, seed).samples
