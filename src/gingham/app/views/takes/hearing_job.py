"""What the Takes page does off the interface thread: hear takes, make what is listened to."""

from __future__ import annotations

import io
from pathlib import Path

import msgspec
import numpy as np

from gingham.app.work.worker import Tick
from gingham.core.fitting.cache import FitCache
from gingham.core.hands.motor import motor_of
from gingham.core.listening.analysis import Analysis, Given, analyse
from gingham.core.listening.asked import Asked, question
from gingham.core.listening.learned import Gaps, gaps_of
from gingham.core.listening.replay import as_meant, as_played, together
from gingham.core.listening.shelf import Kept, Shelf
from gingham.core.listening.simulate import BOUNDS, LEAD_S, read_fault, simulate
from gingham.core.listening.sounds import Sound, read_sound
from gingham.core.listening.spectra import Floats
from gingham.core.listening.taps import KeyTap, struck_at
from gingham.core.music.meter import seconds
from gingham.core.pieces.piece import Piece
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import click
from gingham.language import tr
from gingham.words.take_answer import listen_answer

USUAL_FAULTS = tr("jitter=7 gallop=28 hesitate=140 missed=1 wrong=1")
"""How the simulated player errs until the settings say otherwise."""
_ROUNDS = 2


class HeardTake(msgspec.Struct, frozen=True):
    """A take that has been heard: its sound, all that is known of it, its report as JSON.

    `gaps` is what it shows of the hand, `elsewhere` what the takes of other pieces do.
    """

    kept: Kept
    sound: Sound
    analysis: Analysis
    report: bytes
    gaps: Gaps
    elsewhere: tuple[Gaps, ...] = ()

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
    facts = kept.facts
    analysis = analyse(piece, facts.asked, Given(sound, facts.taps, facts.click_s), tick)
    answer = listen_answer(
        sound, analysis.hearing, analysis.report, analysis.question.plan, 0.0, free=facts.asked.free
    )
    motor = motor_of(piece.rules.level)
    gaps = gaps_of(analysis.marks, analysis.report.spread_ms, motor) if not facts.taps else Gaps()
    report = msgspec.json.encode(answer) + b"\n"
    return HeardTake(kept, sound, analysis, report, gaps, gaps_elsewhere(kept.sound.parent))


def gaps_elsewhere(folder: Path) -> tuple[Gaps, ...]:
    """What the takes on all other shelves beside a folder show of the hand."""
    try:
        others = [each for each in folder.parent.iterdir() if each != folder and each.is_dir()]
    except OSError:
        return ()
    facts = (each for other in others for each in Shelf(other).facts())
    return tuple(each.gaps for each in facts if each.gaps is not None)


def file_as_flac(path: Path) -> tuple[bytes, float]:
    """A sound file in mono as FLAC, and how long it lasts. FileError if it cannot be read."""
    import soundfile

    sound = read_sound(path)
    out = io.BytesIO()
    soundfile.write(out, sound.samples, sound.rate, format="FLAC", subtype="PCM_16")
    return out.getvalue(), sound.seconds


def simulated(piece: Piece, asked: Asked, faults: str, seed: int, *, counted: bool = False) -> Floats:
    """What the simulated player plays of it: two rounds of a section, or the whole form.

    `counted` waits for a bar of count-in, as somebody does who plays to a click.
    """
    rounds = 1 if asked.section is None else _ROUNDS
    made = question(piece, asked, rounds, FitCache())
    known = dict(read_fault(word) for word in faults.split() if word.partition("=")[0] in BOUNDS)
    samples = simulate(piece, made.plan, known, seed).samples
    if not counted:
        return samples
    wait = round((seconds(piece.meter.bar, piece.meter, asked.tempo) - LEAD_S) * RATE_HZ)
    return np.concatenate([np.zeros(max(0, wait), np.float32), samples[max(0, -wait) :]])


def taps_as_flac(taps: tuple[KeyTap, ...], lasts_s: float) -> bytes:
    """A click for each key as FLAC: what is heard of a take that was tapped."""
    import soundfile

    samples = np.zeros(int((lasts_s + 0.2) * RATE_HZ), dtype=np.float32)
    for at in struck_at(taps):
        sound, begin = click(RATE_HZ, 1), int(at * RATE_HZ)
        samples[begin : begin + len(sound)] += sound[: len(samples) - begin]
    out = io.BytesIO()
    soundfile.write(out, samples, RATE_HZ, format="FLAC", subtype="PCM_16")
    return out.getvalue()
