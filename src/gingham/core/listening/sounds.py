"""A recording as samples: any rate and number of channels, mixed to mono, in bounded time and memory."""

from __future__ import annotations

from pathlib import Path

import msgspec
import numpy as np

from gingham.core.errors import FileError
from gingham.core.formats.atomic import why_not
from gingham.core.listening.fewer import decimated
from gingham.core.listening.spectra import Floats

MOST_S = 900.0
_RATES = (6_000, 400_000)
_FASTEST = 50_000  # higher rates are brought down: nothing above 20 kHz says anything about a string
_BLOCK = 4096  # what is lost where a file breaks off
_SILENT, _FULL = 1e-4, 0.999
_BROKEN = 0.01  # so many samples that are no numbers spoil a take


class Sound(msgspec.Struct, frozen=True):
    """A recording in mono. `file_rate` is the rate of the file, `clipped` the share of samples at full scale.

    `cut` says that the file ended before its own header said so.
    """

    samples: Floats
    rate: int
    file_rate: int
    clipped: float
    cut: bool

    @property
    def seconds(self) -> float:
        """How long it lasts."""
        return len(self.samples) / self.rate


def read_sound(path: Path) -> Sound:
    """Read a recording (WAV, FLAC and what libsndfile knows).

    Raises
    ------
    FileError
        If it is missing, no sound, longer than fifteen minutes, silent, or damaged.
    """
    try:
        import soundfile  # loads libsndfile, which nothing else needs
    except (ImportError, OSError) as error:
        raise FileError("no-sound-files", why=str(error)) from error
    if not path.is_file():
        raise FileError("file-missing", path=str(path))
    try:
        with soundfile.SoundFile(path) as file:
            rate, said = int(file.samplerate), int(file.frames)
            if not _RATES[0] <= rate <= _RATES[1]:
                raise FileError("take-rate", path=str(path), rate=rate)
            blocks, cut = _blocks(file, rate, path)
    except OSError as error:
        raise FileError("file-open", path=str(path), why=why_not(error)) from error
    except soundfile.LibsndfileError as error:
        raise FileError("take-format", path=str(path), why=str(error)) from error
    whole = np.concatenate(blocks) if blocks else np.zeros(0, np.float32)
    return _checked(whole, rate, path, cut=cut or len(whole) < said)


def _blocks(file: object, rate: int, path: Path) -> tuple[list[Floats], bool]:
    """Mono blocks of a file as far as it can be read, and whether it broke off."""
    import soundfile

    assert isinstance(file, soundfile.SoundFile)
    blocks: list[Floats] = []
    count = 0
    while True:
        try:
            block = file.read(_BLOCK, dtype="float32", always_2d=True)
        except soundfile.LibsndfileError:
            return blocks, True
        if not len(block):
            return blocks, False
        count += len(block)
        if count > MOST_S * rate:
            raise FileError("take-long", path=str(path), minutes=round(MOST_S / 60))
        blocks.append(block.mean(axis=1, dtype=np.float32))


def _checked(samples: Floats, rate: int, path: Path, *, cut: bool) -> Sound:
    odd = ~np.isfinite(samples)
    if odd.mean() > _BROKEN if len(samples) else False:
        raise FileError("take-broken", path=str(path))
    samples = np.where(odd, np.float32(0), samples).astype(np.float32)
    peak = float(np.abs(samples).max()) if len(samples) else 0.0
    if peak < _SILENT:
        raise FileError("take-silent", path=str(path))
    clipped = float((np.abs(samples) >= _FULL * max(1.0, peak)).mean()) if peak >= _FULL else 0.0
    factor = max(1, -(-rate // _FASTEST))
    return Sound(decimated(samples, factor), rate // factor, rate, clipped, cut)
