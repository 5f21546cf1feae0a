"""The one registry of export formats, by file suffix."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from gingham.core.errors import FileError
from gingham.core.formats.atomic import write_atomically
from gingham.core.formats.sound_choice import EVERYTHING, SoundChoice
from gingham.core.formats.tab import piece_tab
from gingham.core.formats.written import to_write
from gingham.core.pieces.piece import Piece

Tick = Callable[[float], bool]
"""Is told the share that is done (0-1); false stops the work."""


# Each writer loads its library only when it is wanted: a window that exports nothing starts without them.


def _wav(piece: Piece, tick: Tick | None, choice: SoundChoice) -> bytes:
    from gingham.core.formats.wav import piece_wav

    return piece_wav(piece, tick, choice)


def _flac(piece: Piece, tick: Tick | None, choice: SoundChoice) -> bytes:
    from gingham.core.formats.wav import piece_flac

    return piece_flac(piece, tick, choice)


def _text(piece: Piece, _tick: Tick | None, _choice: SoundChoice) -> bytes:
    return piece_tab(to_write(piece)).encode()


def _musicxml(piece: Piece, tick: Tick | None, _choice: SoundChoice) -> bytes:
    from gingham.core.formats.musicxml import musicxml

    return musicxml(to_write(piece), tick)


def _midi(piece: Piece, _tick: Tick | None, _choice: SoundChoice) -> bytes:
    from gingham.core.formats.midi import midi_bytes

    return midi_bytes(to_write(piece))


def _csv(piece: Piece, _tick: Tick | None, _choice: SoundChoice) -> bytes:
    from gingham.core.formats.events_csv import events_csv

    return events_csv(to_write(piece))


WRITERS: dict[str, Callable[[Piece, Tick | None, SoundChoice], bytes]] = {
    ".musicxml": _musicxml,
    ".mid": _midi,
    ".txt": _text,
    ".csv": _csv,
    ".wav": _wav,
    ".flac": _flac,
}


def check_suffix(out: Path, more: tuple[str, ...] = ()) -> str:
    """The suffix of `out` if there is a writer for it here or among `more`, else FileError."""
    suffix = out.suffix.lower()
    known = (*WRITERS, *more)
    if suffix not in known:
        raise FileError("export-suffix", path=str(out), known=known)
    return suffix


def export(piece: Piece, out: Path, tick: Tick | None = None, choice: SoundChoice = EVERYTHING) -> int:
    """Write `piece` in the format of the suffix of `out`; the number of bytes written.

    Raises
    ------
    FileError
        `export-suffix` for a format that is not there, `file-write` if the disk refuses,
        `export-cancelled` if `tick` said stop; then nothing is written.
    """
    writer = WRITERS[check_suffix(out)]
    return write(out, lambda told: writer(piece, told, choice), tick)


def write(out: Path, make: Callable[[Tick], bytes], tick: Tick | None) -> int:
    """Write what `make` gives to `out`, all or nothing; the number of bytes written.

    Raises
    ------
    FileError
        As `export`.
    """
    stopped = False

    def told(share: float) -> bool:
        nonlocal stopped
        stopped = stopped or (tick is not None and not tick(share))
        return not stopped

    data = make(told)
    if stopped:
        raise FileError("export-cancelled", path=str(out))
    write_atomically(out, data)
    return len(data)
