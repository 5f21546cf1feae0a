"""Sound to a WAV file: the whole piece rendered by the same player that plays it live."""

from __future__ import annotations

import io
import wave
from collections.abc import Callable

import numpy as np

from gingham.core.fitting.whole import fit_piece
from gingham.core.pieces.piece import Piece
from gingham.core.sound.player import Player, VoiceBank
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import Samples
from gingham.core.sound.timeline import timeline


def render(
    piece: Piece, bank: VoiceBank | None = None, tick: Callable[[float], bool] | None = None
) -> Samples:
    """The whole piece as float32 samples at 44.1 kHz, repeats played.

    `tick` is told the share that is done (0–1) about every second of sound; it returns False to cancel,
    which gives back what there is so far.
    """
    line = timeline(fit_piece(piece))
    voices = bank if bank is not None else VoiceBank(piece.instrument.nylon)
    player = Player(line, voices, float(piece.tempo))
    blocks: list[Samples] = []
    while not player.finished:
        blocks.append(player.block(RATE_HZ))
        if tick is not None and not tick(min(1.0, player.position / (line.length or 1.0))):
            break
    return np.concatenate(blocks)


def wav_bytes(samples: Samples, rate_hz: int = RATE_HZ) -> bytes:
    """A mono 16-bit WAV file of float samples within ±1."""
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(rate_hz)
        file.writeframes((np.clip(samples, -1.0, 1.0) * 32767.0).astype("<i2").tobytes())
    return out.getvalue()


def piece_wav(piece: Piece, tick: Callable[[float], bool] | None = None) -> bytes:
    """The whole piece as a WAV file; `tick` as in `render`."""
    return wav_bytes(render(piece, tick=tick))
