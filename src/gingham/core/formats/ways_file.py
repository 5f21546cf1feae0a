"""The player's ways of playing as an open file: JSON, every way under its name, and which one is in use."""

from __future__ import annotations

from pathlib import Path

import msgspec

from gingham.core.errors import FileError, GinghamError
from gingham.core.formats.atomic import read_bytes, why_not, write_atomically
from gingham.core.formats.records import RulesRecord
from gingham.core.formats.rules_text import rules_of, rules_record
from gingham.core.music.meter import parse_meter
from gingham.core.pieces.form import ENDINGS, MOST_TIMES
from gingham.core.pieces.rules import check_choice
from gingham.core.pieces.way import OF_THE_WINDOW, USUAL_NAME, Way, own_shapes

FORMAT = "gingham-ways"
VERSION = 1
_MOST_WAYS, _LONGEST_NAME, _MOST_STRINGS = 200, 100, 10


class WayRecord(msgspec.Struct):
    """One way: its rules as in a piece file, and the rest as texts."""

    name: str = USUAL_NAME
    rules: RulesRecord = msgspec.field(default_factory=RulesRecord)
    meter: str = "4/4"
    times: int = 1
    ending: str = "stop"
    pattern: str = ""
    shapes: str = ""
    window: dict[str, str] = {}


class WaysRecord(msgspec.Struct):
    """The whole file; `current` is the name of the way in use."""

    format: str
    version: int
    current: str = ""
    ways: list[WayRecord] = []


class KnownWays(msgspec.Struct, frozen=True, gc=False):
    """The ways in the player's order, and the index of the one in use."""

    ways: tuple[Way, ...] = (Way(),)
    current: int = 0

    @property
    def now(self) -> Way:
        """The way in use."""
        return self.ways[self.current]


def ways_to_bytes(known: KnownWays) -> bytes:
    """The file's bytes."""
    records = [
        WayRecord(
            way.name, rules_record(way.rules), way.meter, way.times, way.ending, way.pattern, way.shapes,
            {name: getattr(way, name) for name in OF_THE_WINDOW if getattr(way, name)},
        )
        for way in known.ways
    ]  # fmt: skip
    whole = WaysRecord(FORMAT, VERSION, known.now.name, records)
    return msgspec.json.format(msgspec.json.encode(whole), indent=2) + b"\n"


def save_ways(path: Path, known: KnownWays) -> None:
    """Write them all; FileError if they cannot be written."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileError("file-write", path=str(path), why=why_not(error)) from error
    write_atomically(path, ways_to_bytes(known))


def load_ways(path: Path) -> KnownWays:
    """Read them; the usual way where there is no file. FileError if it is unreadable, newer or damaged."""
    if not path.exists():
        return KnownWays()
    try:
        record = msgspec.json.decode(read_bytes(path, 1), type=WaysRecord)
    except (msgspec.DecodeError, UnicodeError, RecursionError, ValueError) as error:
        raise FileError("file-damaged", path=str(path), place="the text", why=str(error)) from error
    if record.format != FORMAT:
        raise FileError("file-damaged", path=str(path), place="format", why=record.format)
    if record.version > VERSION:
        raise FileError("file-newer", path=str(path), version=record.version, known=VERSION)
    ways = list[Way]()
    for index, each in enumerate(record.ways[:_MOST_WAYS]):
        try:
            ways.append(_way(each))
        except GinghamError as error:
            raise FileError("file-damaged", path=str(path), place=f"ways[{index}]", why=error) from error
    if not ways:
        return KnownWays()
    names = [way.name for way in ways]
    return KnownWays(tuple(ways), names.index(record.current) if record.current in names else 0)


def _way(record: WayRecord) -> Way:
    own_shapes(record.shapes)
    return Way(
        record.name[:_LONGEST_NAME] or USUAL_NAME,
        rules_of(record.rules, _MOST_STRINGS),
        str(parse_meter(record.meter)),
        min(max(1, record.times), MOST_TIMES),
        check_choice(record.ending, ENDINGS, "ending"),
        record.pattern,
        record.shapes,
        **{name: record.window.get(name, "") for name in OF_THE_WINDOW},
    )
