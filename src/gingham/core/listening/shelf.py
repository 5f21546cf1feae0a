"""Takes on disk: a FLAC file each, beside it what was asked and what came of it, as JSON.

The sound is written while it is played into a `.part` file, so that whatever happens to the program, what was
recorded so far is there; it is taken up when the shelf is next looked at.
"""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

import msgspec

from gingham.core.errors import FileError
from gingham.core.formats.atomic import why_not, write_atomically
from gingham.core.listening.asked import Asked
from gingham.core.listening.learned import Gaps
from gingham.core.listening.taps import KeyTap
from gingham.core.numbers import is_whole
from gingham.core.values import replace

_SOUND, _FACTS, _REPORT, _PART = ".flac", ".take.json", ".report.json", ".part.flac"
_MOST_BYTES = 4_000_000
_DIGITS = 4


class Facts(msgspec.Struct, frozen=True, omit_defaults=True):
    """What is known of a take beside its sound.

    `made` is when (ISO, local time), `seconds` how long, `source` what played it (`microphone`, `file`,
    `simulated`, `tapped`), `mark` of the question it was asked, `held` of `total` plucks on their strings,
    `tempo` as played (beats a minute; 0 where it was not told), `marked` places (bar as played, of a whole
    note in it) marked by hand, `spread_ms` and `spread_db` how uneven it was in time and loudness,
    `thumb_db` the thumb over the fingers, `gaps` what it shows of the hand, `click_s` when the click of the
    first beat is in the file (None without a click), `taps` the keys of a take that was tapped.
    """

    name: str
    made: str
    asked: Asked
    seconds: float
    source: str
    mark: str = ""
    held: int = 0
    total: int = 0
    tempo: float = 0.0
    fault: str = ""
    marked: tuple[tuple[int, str], ...] = ()
    spread_ms: float = 0.0
    spread_db: float = 0.0
    thumb_db: float | None = None
    gaps: Gaps | None = None
    click_s: float | None = None
    taps: tuple[KeyTap, ...] = ()


class Kept(msgspec.Struct, frozen=True):
    """A take on the shelf: its number, its sound, its facts."""

    number: int
    sound: Path
    facts: Facts


class Shelf:
    """The takes of one piece, in a folder of their own."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.faults: list[Path] = []
        """Files that could not be read; they stay where they are."""

    def all(self) -> list[Kept]:
        """Every take, the newest first; a recording that was broken off is taken up as one."""
        if not self.folder.is_dir():
            return []
        self.faults = []
        out = [self._read(path) for path in sorted(self.folder.glob(f"*{_FACTS}"), reverse=True)]
        return [kept for kept in out if kept is not None]

    def facts(self) -> list[Facts]:
        """What is known of every finished take; nothing is taken up and nothing changed."""
        out = []
        for path in self.folder.glob(f"*{_FACTS}"):
            with suppress(OSError, msgspec.DecodeError):
                out.append(msgspec.json.decode(path.read_bytes(), type=Facts))
        return out

    def _read(self, path: Path) -> Kept | None:
        number = path.name.removesuffix(_FACTS)
        sound = self.folder / f"{number}{_SOUND}"
        part = self.folder / f"{number}{_PART}"
        try:
            if path.stat().st_size > _MOST_BYTES:
                raise ValueError("too large")
            facts = msgspec.json.decode(path.read_bytes(), type=Facts)
            if not sound.exists() and part.exists():
                part.rename(sound)  # the program ended while it was recording
        except (OSError, ValueError, msgspec.DecodeError):
            self.faults.append(path)
            return None
        if not _is_number(number) or not sound.exists():
            self.faults.append(path)
            return None
        return Kept(int(number), sound, facts)

    def begin(self, facts: Facts) -> tuple[int, Path]:
        """A number for a new take and the file to record into; its facts are there from the start.

        Raises
        ------
        FileError
            If nothing can be written there.
        """
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            taken = {path.name[:4] for path in self.folder.iterdir()}
        except OSError as error:
            raise FileError("file-write", path=str(self.folder), why=why_not(error)) from error
        number = 1 + max((int(name) for name in taken if _is_number(name)), default=0)
        self._write(number, facts)
        return number, self.folder / f"{number:04}{_PART}"

    def finish(self, number: int, facts: Facts) -> Kept:
        """A recording is over: its file gets its name. FileError if that cannot be written."""
        sound = self._sound(number)
        try:
            (self.folder / f"{number:04}{_PART}").replace(sound)
        except OSError as error:
            raise FileError("file-write", path=str(sound), why=why_not(error)) from error
        with suppress(FileError):  # a full disk: the sound is there, and the facts of its start
            self._write(number, facts)
        return Kept(number, sound, facts)

    def drop(self, number: int) -> None:
        """A recording in which nothing was recorded."""
        for end in (_PART, _FACTS):
            with suppress(OSError):
                (self.folder / f"{number:04}{end}").unlink()

    def take_in(self, sound: bytes, facts: Facts) -> Kept:
        """A take whose sound is there already, as FLAC. FileError if it cannot be written."""
        number, part = self.begin(facts)
        try:
            write_atomically(part, sound)
        except FileError:
            self.drop(number)
            raise
        return self.finish(number, facts)

    def update(self, kept: Kept, facts: Facts, report: bytes | None = None) -> Kept:
        """Other facts, and what the listener said as JSON. FileError if they cannot be written."""
        self._write(kept.number, facts)
        if report is not None:
            write_atomically(self.report(kept), report)
        return replace(kept, facts=facts)

    def report(self, kept: Kept) -> Path:
        """The file of what the listener said."""
        return self.folder / f"{kept.number:04}{_REPORT}"

    def delete(self, kept: Kept) -> None:
        """The take and all that belongs to it. FileError if it cannot be deleted."""
        for path in (kept.sound, self.report(kept), self.folder / f"{kept.number:04}{_FACTS}"):
            try:
                path.unlink(missing_ok=True)
            except OSError as error:
                raise FileError("file-write", path=str(path), why=why_not(error)) from error

    def move(self, folder: Path) -> None:
        """The piece has another file now: its takes come along, unless there are some already."""
        if self.folder.is_dir() and not folder.exists():
            with suppress(OSError):
                folder.parent.mkdir(parents=True, exist_ok=True)
                self.folder.rename(folder)
        self.folder = folder

    def _sound(self, number: int) -> Path:
        return self.folder / f"{number:04}{_SOUND}"

    def _write(self, number: int, facts: Facts) -> None:
        write_atomically(self.folder / f"{number:04}{_FACTS}", msgspec.json.encode(facts) + b"\n")


def _is_number(name: str) -> bool:
    return len(name) == _DIGITS and is_whole(name)
