"""A 200-bar piece out to every format and in again; laying out its sheet; how many patterns are found again.

Reference in the same run: copying the bytes to disk for each export, and music21 parsing the same MusicXML
for the import.

    python -m benchmarks.exchange
"""

from __future__ import annotations

import random
import tempfile
import time
import warnings
from collections.abc import Callable
from pathlib import Path

from gingham.core.errors import GinghamError
from gingham.core.finding.find import find
from gingham.core.finding.part import Part, PartSection, part_of
from gingham.core.fitting.performance import perform
from gingham.core.formats.imports import read_part
from gingham.core.formats.piece_file import load_piece, piece_from_bytes, piece_to_bytes
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.music.meter import meter
from gingham.core.patterns.library import builtin
from gingham.core.patterns.pattern import Pattern
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.form_edits import set_bar_pattern
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.core.pieces.rules import FingerPolicy, Rules, ThumbPlan
from gingham.core.values import replace
from gingham.data import FOLDER
from gingham.paper import output
from gingham.paper.content import SheetOptions
from gingham.paper.exports import SUFFIXES, export
from gingham.paper.layout import lay_out
from gingham.paper.paint import measured

CHORDS = ("G", "C", "D", "Em", "Am7", "D/F#", "G", "Dsus4 / D /")
PROGRESSIONS = (
    "| G | C | D | Em | Am7 | D/F# | G | D |",
    "| C | Am | F | G | C | Em | F | G7 |",
    "| D | A | Bm | G | D | A7 | G | D |",
    "| Am | F | C | G | Am | Dm | E7 | Am |",
)


def long_piece(bars: int) -> Piece:
    """Different chords in every bar of eight, a fill every sixteen, words."""
    line = "| " + " | ".join(CHORDS[i % len(CHORDS)] for i in range(bars)) + " |"
    of = meter(4, 4)
    words = tuple(
        "| For-ty lan-terns | a-long the quay | one for the tide | home |" for _ in range(bars // 4)
    )
    section = Section("Verse", parse_chord_line(line, of), "Hearth", words=words)
    piece = Piece(
        "Long", (section,), (NamedPattern("Hearth", parse_pattern("4/4 x2: p+m . p i ; p m p i")),), capo=2
    )
    fill = NamedPattern("Steps", parse_pattern("4/4 x2: p . i . ; p/5@2 . p/5@0 ."))
    for bar in range(16, bars + 1, 16):
        piece = set_bar_pattern(piece, 0, bar, fill)
    return piece


def timed(do: Callable[[], object], rounds: int = 3) -> tuple[float, object]:
    """The best of some rounds, in ms, and what came out."""
    best, out = 1e9, None
    for _ in range(rounds):
        begin = time.perf_counter()
        out = do()
        best = min(best, 1000 * (time.perf_counter() - begin))
    return best, out


def formats(piece: Piece, folder: Path) -> None:
    """Out and in, per format."""
    print(
        f"{'format':<10}{'export ms':>11}{'bytes':>10}{'copy ms':>9}{'read ms':>9}{'find ms':>9}  comes back"
    )
    wanted = part_of(perform(piece))
    for suffix in SUFFIXES:
        out = folder / f"long{suffix}"
        export_ms, size = timed(lambda out=out: export(piece, out), 1 if suffix in (".flac", ".wav") else 3)
        data = out.read_bytes()
        copy_ms, _ = timed(lambda out=out, data=data: out.with_suffix(".copy").write_bytes(data))
        line = f"{suffix:<10}{export_ms:>11.0f}{size:>10}{copy_ms:>9.1f}"
        if suffix in (".musicxml", ".mid", ".txt"):
            read_ms, part = timed(lambda out=out: read_part(out))
            assert isinstance(part, Part)
            find_ms, found = timed(lambda part=part: find(part), 1)
            same = notes(part_of(perform(found.piece))) == notes(wanted)  # type: ignore[attr-defined]
            line += f"{read_ms:>9.0f}{find_ms:>9.0f}  {'note for note' if same else 'DIFFERS'}"
        print(line)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import music21

        text = (folder / "long.musicxml").read_text()
        other_ms, _ = timed(lambda: music21.converter.parseData(text, format="musicxml"), 1)
    print(f"reference: music21 parses the same MusicXML in {other_ms:.0f} ms")


def notes(part: Part) -> list[list[tuple[object, ...]]]:
    """What is compared."""
    return [[(n.at, n.string, n.fret) for n in bar.notes] for bar in part.bars()]


def sheets(piece: Piece) -> None:
    """Layout of 200 bars and of 100 pages."""
    metrics = measured()
    ms, pages = timed(lambda: lay_out(piece, SheetOptions(), metrics))
    print(f"sheet of 200 bars: {len(pages)} pages laid out in {ms:.0f} ms")  # type: ignore[arg-type]
    ms, _ = timed(lambda: output.image(pages[0], 1.6))  # type: ignore[index]
    print(f"one page painted in {ms:.0f} ms")
    ms, many = timed(lambda: lay_out(long_piece(1600), SheetOptions(), metrics), 1)
    print(f"sheet of 1600 bars: {len(many)} pages laid out in {ms:.0f} ms")  # type: ignore[arg-type]


def files() -> None:
    """Opening and saving thousands of bars."""
    for bars in (200, 5000):
        piece = long_piece(bars)
        write_ms, data = timed(lambda piece=piece: piece_to_bytes(piece))
        read_ms, _ = timed(lambda data=data: piece_from_bytes(data))
        size = len(data)  # type: ignore[arg-type]
        print(f"piece file of {bars} bars: {size} bytes, made in {write_ms:.0f}, read in {read_ms:.0f} ms")


def bare(part: Part, *, strings: bool, fingers: bool) -> Part:
    """The part as another program might write it: without letters, without strings; never with shapes."""
    sections = []
    for section in part.sections:
        bars = []
        for bar in section.bars:
            kept = tuple(
                replace(
                    n,
                    string=n.string if strings else None,
                    fret=n.fret if strings else None,
                    finger=n.finger if fingers else "",
                )
                for n in bar.notes
            )
            bars.append(replace(bar, notes=kept, chords=tuple(replace(c, shape=None) for c in bar.chords)))
        sections.append(PartSection(section.name, tuple(bars), section.times))
    return replace(part, sections=tuple(sections))


def generated(random_: random.Random) -> list[tuple[Piece, Pattern, int]]:
    """Parts of our own: built-in patterns in four beats on progressions, by several plans, one odd bar."""
    out = []
    of = meter(4, 4)
    odd = parse_pattern("4/4 x2: p . . i . m . .")
    for name, pattern in builtin():
        if pattern.meter != of or pattern.length > of.bar * 2:
            continue
        for line in PROGRESSIONS:
            rules = Rules(
                ThumbPlan(random_.choice(["pair", "pair", "root", "string-4", "rise"])),
                FingerPolicy(random_.choice(["shift", "shift", "home"])),
            )
            section = Section("Verse", parse_chord_line(line, of), name)
            piece = Piece("Set", (section,), (NamedPattern(name, pattern),), CATALOGUE["guitar"], rules=rules)
            bar = random_.randint(1, 8)
            out.append((set_bar_pattern(piece, 0, bar, NamedPattern("Odd", odd)), pattern, bar))
    return out


def same_pattern(found: Piece, pattern: Pattern) -> bool:
    """Whether the pattern that was found, laid end to end, is stroke for stroke the one that was planted."""
    other = found.pattern(found.sections[0].pattern)
    if other.per_beat != pattern.per_beat or len(pattern.slots) % len(other.slots):
        return False
    times = len(pattern.slots) // len(other.slots)
    return other.slots * times == pattern.slots


def recovery() -> None:
    """The share of generated parts whose pattern and odd bar are found again."""
    random_ = random.Random(11)
    parts = generated(random_)
    print(f"{len(parts)} generated parts, each with one odd bar:")
    for words, strings, fingers in (
        ("strings, frets and letters", True, True),
        ("strings and frets", True, False),
        ("pitches alone", False, False),
    ):
        exact = heard = planted = failed = 0
        begin = time.perf_counter()
        for piece, pattern, bar in parts:
            part = part_of(perform(piece))
            try:
                found = find(bare(part, strings=strings, fingers=fingers))
            except GinghamError:
                failed += 1
                continue
            exact += same_pattern(found.piece, pattern)
            planted += [e.bar for e in found.exceptions] == [bar]
            got = [[(n.at, n.midi) for n in b.notes] for b in part_of(perform(found.piece)).bars()]
            heard += [sorted(b, key=str) for b in got] == [
                sorted(((n.at, n.midi) for n in b.notes), key=str) for b in part.bars()
            ]
        seconds = (time.perf_counter() - begin) / len(parts)
        print(
            f"  from {words}: stroke for stroke {exact}, only the odd bar listed {planted}, "
            f"sounds the same {heard} of {len(parts)}; refused {failed}; {seconds:.2f} s each"
        )


if __name__ == "__main__":
    keep = output.ready()
    assert load_piece(FOLDER / "demo" / "forty-lanterns.gingham").title
    with tempfile.TemporaryDirectory() as name:
        whole = long_piece(200)
        formats(whole, Path(name))
        sheets(whole)
        files()
    recovery()
