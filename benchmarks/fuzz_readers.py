"""Damaged files by the ten thousand: every reader gives what it reads, or one known fault, nothing else.

python -m benchmarks.fuzz_readers 10000
"""

from __future__ import annotations

import random
import re
import sys
import time
import traceback
from collections import Counter
from collections.abc import Callable

from gingham.core.errors import FileError, GinghamError
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
                [b"-1", b"99999999999", b"1e309", b"NaN", b"\0", b"<a>", b"|", b"\xff"]
            )
    return bytes(out)


_VALUES = (
    "", "0", "-1", "7", "99", "1000000000", "1/3", "4/4", "x", "p", "Z9", "N.C.", "| G | H |", "null", "[]",
    "{}", "true", "C##", "é♯", "-5/8", "inf", "a" * 300,
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


def campaign(cases: int) -> int:
    """Run it; the number of faults of our own."""
    random_ = random.Random(7)
    bad = 0
    piece = load_piece(FOLDER / "demo" / "netmenders-round.gingham")
    for name, (good, read) in readers(piece).items():
        outcomes: Counter[str] = Counter()
        begin, slowest = time.perf_counter(), 0.0
        for number in range(cases):
            damage = random_.choice((damaged, other_values, bent))
            data = damage(good, random_)
            now = time.perf_counter()
            try:
                made = read(data)
                if isinstance(made, Part) and number % _FIND_EVERY == 0:
                    find(made)
                outcomes["read"] += 1
            except FileError as error:
                assert say(error) != str(error), error.code
                outcomes[error.code] += 1
            except GinghamError as error:
                bad += 1
                print("not a FileError:", error)
            except Exception:  # noqa: BLE001  # any other fault is what is looked for
                bad += 1
                traceback.print_exc()
                if bad > 10:
                    return bad
            slowest = max(slowest, time.perf_counter() - now)
        seconds = time.perf_counter() - begin
        common = ", ".join(f"{code} {count}" for code, count in outcomes.most_common())
        print(f"{name}: {cases} cases in {seconds:.0f} s, slowest {slowest:.2f} s: {common}")
    return bad


if __name__ == "__main__":
    sys.exit(1 if campaign(int(sys.argv[1]) if len(sys.argv) > 1 else 10_000) else 0)
