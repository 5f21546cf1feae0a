"""The pattern shorthand: reading and printing (the grammar is in docs/cli.md).

`parse_pattern(print_pattern(p)) == p` for every pattern that can be written.
"""

from __future__ import annotations

import re
from fractions import Fraction

from gingham.core.errors import MeterError, PatternError
from gingham.core.music.meter import SLOT_COUNTS, Meter, parse_meter, slot_lengths
from gingham.core.patterns.pattern import (
    Ornament,
    OrnamentKind,
    Pattern,
    PickWay,
    Pluck,
    Slot,
    StringStroke,
    Stroke,
    Sweep,
    SweepKind,
    Variant,
)
from gingham.core.reasons import Reason

MAX_LINE = 20_000
_HIGHEST_FRET = 24
_BEHIND = re.compile(r"\s(?=(?:when|pick|read\s+on)\s)")
_HEAD = re.compile(r"\s*(?P<meter>[^\s:]+)(?:\s+x(?P<counts>[0-9,]*))?\s*:")
_PLUCK = re.compile(
    r"(?:(?P<thumb>p)(?P<lane>[1-9])?|(?P<finger>[imac]))"
    r"(?P<where>''|'|,,|,|(?:/[0-9]{1,2})+)?"
    r"(?:@(?P<fret>[0-9]{1,2}))?"
    r"(?P<ornament>\^[0-9]{0,2}|_[0-9]{0,2}|>[0-9]{1,2})?"
    r"(?P<accent>!{0,2})"
)
_SWEEP = re.compile(r"(?P<kind>d|u|p~|k)(?:(?P<from>[0-9]{1,2})-(?P<to>[0-9]{1,2}))?(?P<accent>!{0,2})")
_STRING = re.compile(r"(?P<string>[0-9]{1,2})(?:@(?P<fret>[0-9]{1,2}))?(?P<accent>!{0,2})")
_SHIFTS = {"'": -1, "''": -2, ",": 1, ",,": 2}
_SWEEPS: dict[str, SweepKind] = {"d": "brush-down", "u": "brush-up", "p~": "thumb-brush", "k": "chuck"}
_ORNAMENTS: dict[str, OrnamentKind] = {"^": "hammer", "_": "pull", ">": "slide"}


def parse_pattern(text: str) -> Pattern:
    """Read a pattern line, with `when …:` variants, `read on D` and `pick down up` behind it or on own lines.

    Raises
    ------
    PatternError
        With `start`/`end` on the token that means nothing, or on the head if it is missing.
    """
    if len(text) > MAX_LINE:
        raise PatternError("pattern-long", start=MAX_LINE, end=len(text), most=MAX_LINE)
    first, *rest = _BEHIND.sub("\n", text).split("\n")
    meter, per_beat, begin = _read_head(first)
    slots, breaks = _read_tokens(first, begin, meter, per_beat)
    variants: list[Variant] = []
    read_on, picks = "", tuple[PickWay, ...]()
    offset = len(first) + 1
    for line in rest:
        if match := re.fullmatch(r"\s*read on (\S+)\s*", line):
            read_on = match[1]
        elif match := re.fullmatch(r"\s*pick((?:\s+(?:down|up))+)\s*", line):
            picks = tuple("up" if way == "up" else "down" for way in match[1].split())
        elif line.strip():
            try:
                variants.append(_read_variant(line, meter, per_beat, len(slots)))
            except PatternError as error:
                raise error.shifted(offset, len(line)) from error
        offset += len(line) + 1
    return Pattern(meter, per_beat, slots, breaks, tuple(variants), read_on, picks)


def _read_head(line: str) -> tuple[Meter, tuple[int, ...], int]:
    match = _HEAD.match(line)
    if not match:
        if ":" not in line:
            raise PatternError("pattern-grid", start=0, end=len(line), text=line.strip())
        raise PatternError("pattern-head", start=0, end=line.index(":"), text=line[: line.index(":")])
    try:
        meter = parse_meter(match["meter"])
        counts = _supposed_counts(line[match.end() :], meter)
        if match["counts"] is not None:
            counts = tuple(int(k) for k in match["counts"].split(","))
        slot_lengths(meter, counts)
    except MeterError as error:
        place = "meter" if error.code == "meter" else "counts"
        raise PatternError(
            error.code, start=match.start(place), end=match.end(place), **error.values
        ) from error
    except ValueError as error:
        raise PatternError("pattern-head", start=0, end=match.end(), text=match[0]) from error
    return meter, counts, match.end()


def _supposed_counts(tokens: str, meter: Meter) -> tuple[int, ...]:
    """Slots for each beat where none are given: a whole bar for these tokens, else one for each unit."""
    count = sum(token not in (";", "|") for token in tokens.split())
    beats = len(meter.groups)
    for per_beat in SLOT_COUNTS:
        if count == beats * per_beat:
            return (per_beat,)
    return tuple(dict.fromkeys(meter.groups)) if len({*meter.groups}) == 1 else meter.groups


def supposed_in_pattern(text: str) -> tuple[Reason, ...]:
    """What was supposed where a pattern, which can be read, was not written out."""
    match = _HEAD.match(text)
    if match is None or match["counts"] is not None:
        return ()
    counts = parse_pattern(text).per_beat
    return (Reason.of("supposed-slots", counts=",".join(map(str, counts))),)


def _read_variant(line: str, meter: Meter, per_beat: tuple[int, ...], count: int) -> Variant:
    match = re.match(r"\s*when\s+(\S+?)\s*:", line)
    if not match:
        raise PatternError("pattern-variant", start=0, end=len(line), text=line.strip())
    slots, breaks = _read_tokens(line, match.end(), meter, per_beat)
    if breaks:
        raise PatternError("variant-breaks", start=line.index(";"), end=line.index(";") + 1)
    if len(slots) != count:
        raise PatternError("variant-length", start=0, end=len(line), given=len(slots), needed=count)
    return Variant(match[1], slots)


def _read_tokens(
    line: str, begin: int, meter: Meter, per_beat: tuple[int, ...]
) -> tuple[tuple[Slot, ...], tuple[int, ...]]:
    lengths = slot_lengths(meter, per_beat)
    slots: list[Slot] = []
    breaks: list[int] = []
    position = Fraction(0)
    last_mark: re.Match[str] | None = None
    for match in re.finditer(r"\S+", line[begin:]):
        token, start = match[0], begin + match.start()
        where = {"start": start, "end": start + len(token)}
        if token in ";|":
            if not slots:
                raise PatternError("pattern-mark-first", text=token, **where)
            if token == "|" and (position % meter.bar or position == 0):
                raise PatternError("pattern-bar-line", meter=str(meter), **where)
            if token == ";" and (not breaks or breaks[-1] != len(slots)):
                breaks.append(len(slots))
            last_mark = match
            continue
        last_mark = None
        slots.append(() if token == "." else read_slot(token, start))
        position += lengths[(len(slots) - 1) % len(lengths)]
    if last_mark is not None:
        start = begin + last_mark.start()
        raise PatternError("pattern-mark-last", start=start, end=start + 1, text=last_mark[0])
    if not slots:
        raise PatternError("pattern-empty", start=0, end=len(line))
    return tuple(slots), tuple(breaks)


def read_slot(token: str, start: int = 0) -> Slot:
    """The strokes of one token that is not a rest; PatternError on the part that means nothing.

    `start` is where the token begins in the text that the error's place is counted in.
    """
    strokes: list[Stroke] = []
    at = start
    for part in token.split("+"):
        stroke = _read_stroke(part)
        if stroke is None:
            raise PatternError("pattern-token", start=at, end=at + max(1, len(part)), text=part or "+")
        strokes.append(stroke)
        at += len(part) + 1
    return tuple(strokes)


def _read_stroke(part: str) -> Stroke | None:
    if match := _SWEEP.fullmatch(part):
        span = (int(match["from"]), int(match["to"])) if match["from"] else None
        if span and not all(1 <= string <= 10 for string in span):
            return None
        return Sweep(_SWEEPS[match["kind"]], span, len(match["accent"]))
    if match := _STRING.fullmatch(part):
        string, fret = int(match["string"]), _fret(match["fret"])
        return (
            StringStroke(string, fret, len(match["accent"])) if 1 <= string <= 10 and _on_neck(fret) else None
        )
    if match := _PLUCK.fullmatch(part):
        return _read_pluck(match)
    return None


def _read_pluck(match: re.Match[str]) -> Pluck | None:
    where = match["where"] or ""
    strings = tuple(int(n) for n in where.split("/")[1:])
    ornament = None
    if match["ornament"]:
        sign, number = match["ornament"][0], match["ornament"][1:]
        ornament = Ornament(_ORNAMENTS[sign], int(number) if number else None)
    fret = _fret(match["fret"])
    if (
        not all(1 <= s <= 10 for s in strings)
        or not _on_neck(fret)
        or (ornament and not _on_neck(ornament.fret))
    ):
        return None
    return Pluck(
        match["thumb"] or match["finger"],
        int(match["lane"]) if match["lane"] else None,
        _SHIFTS.get(where, 0),
        strings,
        fret,
        ornament,
        len(match["accent"]),
    )


def _fret(digits: str | None) -> int | None:
    return None if digits is None else int(digits)


def _on_neck(fret: int | None) -> bool:
    return fret is None or fret <= _HIGHEST_FRET


def print_stroke(stroke: Stroke) -> str:
    """The token of one stroke."""
    accent = "!" * stroke.accent
    if isinstance(stroke, Sweep):
        sign = next(sign for sign, kind in _SWEEPS.items() if kind == stroke.kind)
        return sign + (f"{stroke.span[0]}-{stroke.span[1]}" if stroke.span else "") + accent
    fret = "" if stroke.fret is None else f"@{stroke.fret}"
    if isinstance(stroke, StringStroke):
        return f"{stroke.string}{fret}{accent}"
    where = "".join(f"/{string}" for string in stroke.strings)
    where = where or next((sign for sign, shift in _SHIFTS.items() if shift == stroke.shift), "")
    lane = "" if stroke.lane is None else str(stroke.lane)
    return f"{stroke.finger}{lane}{where}{fret}{_print_ornament(stroke.ornament)}{accent}"


def _print_ornament(ornament: Ornament | None) -> str:
    if ornament is None:
        return ""
    sign = next(sign for sign, kind in _ORNAMENTS.items() if kind == ornament.kind)
    return sign + ("" if ornament.fret is None else str(ornament.fret))


def print_slot(slot: Slot) -> str:
    """The token of one slot: strokes joined by `+`, or `.` where it is empty."""
    return "+".join(map(print_stroke, slot)) or "."


def print_pattern(pattern: Pattern) -> str:
    """The canonical shorthand, with bar lines where the pattern has several bars."""
    counts = ",".join(map(str, pattern.per_beat))
    words = [f"{pattern.meter} x{counts}:"]
    starts = pattern.starts
    for index, slot in enumerate(pattern.slots):
        if index in pattern.breaks:
            words.append(";")
        if index and starts[index] % pattern.meter.bar == 0:
            words.append("|")
        words.append(print_slot(slot))
    lines = [" ".join(words)]
    lines += map(print_variant, pattern.variants)
    if pattern.picks:
        lines.append(print_picks(pattern.picks))
    if pattern.read_on:
        lines.append(f"read on {pattern.read_on}")
    return "\n".join(lines)


def print_picks(picks: tuple[PickWay, ...]) -> str:
    """`pick down up up`: the ways of a flat pick, as they stand on a line of their own."""
    return f"pick {' '.join(picks)}"


def print_variant(variant: Variant) -> str:
    """`when D: p i m a`, as it stands on a line of its own."""
    return f"when {variant.when}: " + " ".join(map(print_slot, variant.slots))
