"""Sound to a WAV or FLAC file: the whole piece rendered by the same player that plays it live."""

from __future__ import annotations

import io
import wave
from collections.abc import Callable

import numpy as np

from gingham.core.errors import FileError
from gingham.core.formats.sound_choice import EVERYTHING, SoundChoice
from gingham.core.formats.written import to_write
from gingham.core.pieces.piece import Piece
from gingham.core.sound.player import Player
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.room import Room, Stereo
from gingham.core.sound.timeline import performed
from gingham.core.sound.voices import VoiceBank, kind_of


def render(
    piece: Piece,
    bank: VoiceBank | None = None,
    tick: Callable[[float], bool] | None = None,
    choice: SoundChoice = EVERYTHING,
) -> Stereo:
    """The performance of a piece with its ending, float32 samples of two channels at 44.1 kHz.

    `tick` is told the share that is done (0–1) about every second of sound; it returns False to cancel,
    which gives back what there is so far. FileError if the piece has no chords.
    """
    line = performed(to_write(piece))
    voices = bank if bank is not None else VoiceBank(kind_of(piece))
    player = Player(line, voices, float(piece.tempo))
    player.clicks, player.muted = choice.clicks, choice.muted
    if choice.count_in:
        player.count_in(choice.count_in)
    room = Room()
    blocks: list[Stereo] = []
    while not player.finished:
        blocks.append(room.stereo(player.block(RATE_HZ)))
        if tick is not None and not tick(min(1.0, player.position / (line.length or 1.0))):
            break
    return np.concatenate(blocks)


def wav_bytes(samples: Stereo, rate_hz: int = RATE_HZ) -> bytes:
    """A 16-bit WAV file of float samples within ±1: mono, shape (n,), or stereo, shape (n, 2)."""
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1 if samples.ndim == 1 else 2)
        file.setsampwidth(2)
        file.setframerate(rate_hz)
        file.writeframes((np.clip(samples, -1.0, 1.0) * 32767.0).astype("<i2").tobytes())
    return out.getvalue()


def piece_wav(
    piece: Piece, tick: Callable[[float], bool] | None = None, choice: SoundChoice = EVERYTHING
) -> bytes:
    """The whole piece as a WAV file; `tick` as in `render`."""
    return wav_bytes(render(piece, tick=tick, choice=choice))


def piece_flac(
    piece: Piece, tick: Callable[[float], bool] | None = None, choice: SoundChoice = EVERYTHING
) -> bytes:
    """The whole piece as a FLAC file, 16 bits; `tick` as in `render`.

    FileError if the library for it is not there.
    """
    return flac_bytes(render(piece, tick=tick, choice=choice))


def flac_bytes(samples: Stereo) -> bytes:
    """Samples (one or two channels) as a FLAC file, 16 bits; FileError if the library for it is not there."""
    try:
        import soundfile  # loads libsndfile, which nothing else needs
    except (ImportError, OSError) as error:
        raise FileError("no-flac", why=str(error)) from error
    out = io.BytesIO()
    soundfile.write(out, samples, RATE_HZ, format="FLAC", subtype="PCM_16")
    return out.getvalue()
