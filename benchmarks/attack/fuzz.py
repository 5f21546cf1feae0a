"""Damaged and oversized files for every reader: each gives what it reads, or one known fault, nothing else.

Counted are tracebacks, inputs that took over 2 s of processor time, and whether memory grew by over 300 MB.
"""

from __future__ import annotations

import json
import random
import re
import resource
import time
import traceback
from collections import Counter
from collections.abc import Callable, Iterator

from gingham.core.errors import FileError
from gingham.core.finding.find import find
from gingham.core.finding.part import Part
from gingham.core.fitting.performance import perform
from gingham.core.formats.chart import read_chart
from gingham.core.formats.imports import text_of
from gingham.core.formats.midi import midi_bytes
from gingham.core.formats.midi_in import part_from_midi
from gingham.core.formats.musicxml import musicxml
from gingham.core.formats.musicxml_in import part_from_musicxml
from gingham.core.formats.piece_file import load_piece, piece_from_bytes, piece_to_bytes
from gingham.core.formats.tab import piece_tab
from gingham.core.formats.tab_in import part_from_tab
from gingham.core.music.meter import meter
from gingham.core.pieces.piece import Piece
from gingham.data import FOLDER
from gingham.words.errors import say

_FIND_EVERY = 200  # reading patterns takes long: only now and then
_MOST_S, _MOST_MB = 2.0, 300


def damaged(data: bytes, random_: random.Random) -> bytes:
    """Bytes changed, cut out, doubled, or the end cut off."""
    out = bytearray(data)
    for _ in range(random_.randint(1, 6)):
        at = random_.randrange(len(out)) if out else 0
        how = random_.randrange(5)
        if how == 0 and out:
            out[at] = random_.randrange(256)
        elif how == 1:
            del out[at : at + random_.randint(1, 60)]
        elif how == 2:
            out[at:at] = out[at : at + random_.randint(1, 200)]
        elif how == 3 and random_.random() < 0.3:
            del out[at:]
        else:
            out[at:at] = random_.choice(
                [
                    b"-1",
                    b"99999999999",
                    b"1e309",
                    b"NaN",
                    b"\0",
                    b"1e999999",
                    b"\xc2\xb2",
                    b"9" * 5000,
                    b"[" * 2000,
                    b"<a>",
                    b"|",
                    b"\xff",
                ]
            )
    return bytes(out)


_ODD = (b"NaN", b"\0", b"1e999999", b"\xc2\xb2", b"9" * 5000, b"[" * 2000)
_VALUES = (
    "", "0", "-1", "7", "99", "1000000000", "1/3", "4/4", "x", "p", "Z9", "N.C.", "| G | H |", "null", "[]",
    "{}", "true", "C##", "é♯", "-5/8", "inf", "a" * 300,
    "1e999999999", "²", "٣", "9" * 5000, "1/0", "[" * 3000, "\0",
)  # fmt: skip
_TOKENS = re.compile(rb'>[^<>]+<|"[^"]*"|\b\d+\b')


def other_values(data: bytes, random_: random.Random) -> bytes:
    """The form of the file kept, some of its values replaced by odd ones."""
    found = list(_TOKENS.finditer(data))
    for match in sorted(
        random_.sample(found, min(len(found), random_.randint(1, 3))), key=lambda m: -m.start()
    ):
        token, value = match[0], random_.choice(_VALUES).encode()
        if token[:1] in b'>"':
            value = token[:1] + value.replace(b'"', b"'") + token[-1:]
        data = data[: match.start()] + value + data[match.end() :]
    return data


def bent(data: bytes, random_: random.Random) -> bytes:
    """Single bytes changed, the length kept: what a binary file survives."""
    out = bytearray(data)
    for _ in range(random_.randint(1, 4)):
        out[random_.randrange(len(out))] = random_.randrange(256)
    return bytes(out)


def readers(piece: Piece) -> dict[str, tuple[bytes, Callable[[bytes], object]]]:
    """For each reader a good file and how it is read."""
    of = perform(piece)
    chart = b"[Verse x2]\nG   Am7\nForty lanterns\nRefrain:\n| C | D/F# | G / / Em | C D G | x3\n"
    return {
        "MusicXML": (musicxml(of), lambda data: part_from_musicxml(data, "x")),
        "MIDI": (midi_bytes(of), lambda data: part_from_midi(data, "x")),
        "tablature": (piece_tab(of).encode(), lambda data: part_from_tab(text_of(data, "x"), "x")),
        "chart": (chart, lambda data: read_chart(text_of(data, "x"), meter(4, 4), "x")),
        "piece file": (piece_to_bytes(piece), lambda data: piece_from_bytes(data, "x")),
    }


def large() -> Iterator[tuple[str, bytes]]:
    """Far too much of one thing: (reader, file)."""
    record = json.loads(piece_to_bytes(load_piece(FOLDER / "demo" / "forty-lanterns.gingham")))
    here = {"kind": "here", "section": "Verse", "bar": 1, "at": "0", "finger": "p", "string": 6}
    for change in (
        {"overrides": [{**here, "bar": n % 9_000} for n in range(300_000)]},
        {"overrides": [here] * 9_000},
        {"sections": record["sections"] * 30_000},
        {"patterns": record["patterns"] * 500},
        {"sections": [{**record["sections"][0], "chords": "| C " * 100_000}]},
        {"sections": [{**record["sections"][0], "repeats": 10**9}]},
        {"title": "x" * 1_000_000},
    ):
        yield "piece file", json.dumps({**record, **change}).encode()
    yield "piece file", b'{"a":' * 100_000
    yield "piece file", b'{"format":"gingham-piece","version":1,"sections":7}'
    yield "piece file", b'{"format":"gingham-piece","version":2,"x":' + b"[" * 100_000 + b"]" * 100_000 + b"}"
    pitch = "<pitch><step>C</step><octave>4</octave></pitch>"
    measure = f"<measure><note>{pitch}<duration>1</duration></note></measure>"
    head, tail = '<score-partwise><part-list/><part id="P1">', "</part></score-partwise>"
    yield "MusicXML", (head + measure * 10_000 + tail).encode()
    yield "MusicXML", (head + measure * 60_000 + tail).encode()
    yield "MusicXML", (head + "<measure>" + measure[9:-10] * 120_000 + "</measure>" + tail).encode()
    yield "MIDI", midi_of(480_000)
    yield "MIDI", midi_of(90_000)
    yield "chart", b"G" + b" " * 500 + b"x"
    yield "chart", b"\n".join([(b"G" + b" " * 18) * 10, b"lanterns " * 22] * 240)
    yield "chart", b"A " * 49_000 + b"\n" + b"w" * 1_000
    yield "tablature", ((b"-0" * 1_900 + b"|\n") * 6 + b"\n") * 170
    yield "tablature", (b" " * 3_900 + b"z---\n") * 900


def midi_of(notes: int) -> bytes:
    """A MIDI file of so many notes in a row, an eighth each."""
    body = b"".join(b"\x00\x90\x40\x40\x78\x80\x40\x00" for _ in range(notes)) + b"\x00\xff\x2f\x00"
    return b"MThd\0\0\0\6\0\0\0\1\0\xf0MTrk" + len(body).to_bytes(4, "big") + body


class Campaign:
    """Counts what goes wrong."""

    def __init__(self) -> None:
        self.out: Counter[str] = Counter()
        self.slowest: dict[str, float] = {}

    def read(self, name: str, read: Callable[[bytes], object], data: bytes) -> str:
        """Read one file: how that ended."""
        self.out["inputs"] += 1
        begin = time.process_time()
        made = None
        try:
            made = read(data)
            end = "read"
        except FileError as error:
            end = error.code
            self.out["without words"] += say(error) == str(error)
        except Exception:  # noqa: BLE001  # any other fault is what is looked for
            end = self._traceback()
        took = time.process_time() - begin
        self.slowest[name] = max(took, self.slowest.get(name, 0.0))
        self.out["over 2 s"] += took > _MOST_S
        if isinstance(made, Part) and self.out["inputs"] % _FIND_EVERY == 0:
            self._find(made)
        return end

    def _find(self, made: Part) -> None:
        """Find the patterns of a read part; not timed, for the application shows progress and can stop it."""
        try:
            find(made)
        except Exception:  # noqa: BLE001  # as above
            self._traceback()

    def _traceback(self) -> str:
        self.out["tracebacks"] += 1
        traceback.print_exc()
        return "traceback"


def main(cases: int, seed: int = 7) -> Counter[str]:
    """So many damaged files for every reader, and every oversized one; what went wrong, by kind."""
    random_, campaign = random.Random(seed), Campaign()
    known = readers(load_piece(FOLDER / "demo" / "netmenders-round.gingham"))
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    for name, data in large():
        campaign.read(name, known[name][1], data)
    for name, (good, read) in known.items():
        ends: Counter[str] = Counter()
        for _ in range(cases):
            damage = random_.choice((damaged, other_values, bent))
            ends[campaign.read(name, read, damage(good, random_))] += 1
        common = ", ".join(f"{code} {count}" for code, count in ends.most_common(6))
        print(f"  {name}: {cases}, slowest {campaign.slowest[name]:.2f} s: {common}")
    grown_mb = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) // 1_000
    campaign.out["over 300 MB"] += grown_mb > _MOST_MB
    print(f"  memory grew by {grown_mb} MB at most")
    return campaign.out
