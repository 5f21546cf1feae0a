"""First and second endings, and where each section goes on: the order of a form as jump marks say it."""

from __future__ import annotations

from gingham.core.errors import EditError
from gingham.core.free_names import free_name
from gingham.core.pieces.chordline import written_out
from gingham.core.pieces.form import MOST_TURNS, Form, Turn
from gingham.core.pieces.lyrics import marked
from gingham.core.pieces.piece import HereOverride, Override, Piece, Section
from gingham.core.values import replace

FIRST, LAST = "first ending", "last ending"


def with_endings(piece: Piece, index: int, bars: int) -> Piece:
    """A section whose last `bars` bars are other ones the last time (see `_through`).

    The bars become two sections of their own, at first alike; both forms go through them. Own patterns, the
    tune, words with bar lines and single exceptions go with their bars.

    Raises
    ------
    EditError
        If the section is not longer than that, or the order gets too long.
    """
    section = piece.sections[index]
    count = len(section.chords.bars)
    if not 0 < bars < count:
        raise EditError("ending-bars", given=bars, most=count - 1)
    cut = count - bars
    body, tail = _parted(section, cut)
    names = {each.name for each in piece.sections}
    first = replace(tail, name=free_name(f"{section.name} ({FIRST})", names))
    last = replace(tail, name=free_name(f"{section.name} ({LAST})", names), repeats=1)
    sections = (*piece.sections[:index], body, first, last, *piece.sections[index + 1 :])
    ways = (section.name, first.name, last.name)
    forms = [
        Form(_through(piece.turns(practice), *ways), piece.form(practice).ending)
        for practice in (False, True)
    ]
    if any(len(form.turns) > MOST_TURNS for form in forms):
        raise EditError("turns-many", given=max(len(form.turns) for form in forms), most=MOST_TURNS)
    moved = tuple(
        each
        for override in piece.overrides
        for each in _with_bars(override, section.name, cut, (first.name, last.name))
    )
    return replace(piece, sections=sections, overrides=moved, performance=forms[0], practice=forms[1])


def _parted(section: Section, cut: int) -> tuple[Section, Section]:
    """The bars up to `cut`, and those from there on with all that is theirs."""
    before, after = _parted_words(section.words, len(section.chords.bars), cut)
    chords = section.chords
    lines = written_out(chords)
    body = replace(
        section,
        chords=replace(chords, bars=lines[:cut]),
        repeats=1,
        words=before,
        bars=tuple(own for own in section.bars if own.bar <= cut),
        tune=tuple(note for note in section.tune if note.bar <= cut),
    )
    tail = replace(
        section,
        chords=replace(chords, bars=lines[cut:], pickup=None),
        repeats=1,
        words=after,
        bars=tuple(replace(own, bar=own.bar - cut) for own in section.bars if own.bar > cut),
        tune=tuple(replace(note, bar=note.bar - cut) for note in section.tune if note.bar > cut),
    )
    return body, tail


def _parted_words(lines: tuple[str, ...], bars: int, cut: int) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Words with their bars: lines follow one another, over the bars of one verse after the other.

    Where a line does not say its bars, all of them stay with the first part.
    """
    if not all(map(marked, lines)):
        return lines, ()
    before, after = list[str](), list[str]()
    bar = 0
    for line in lines:
        head, _, rest = line.partition("|")
        pickup = head if head.strip().startswith("(") else ""
        text = rest if pickup or not head.strip() else line
        parts: tuple[list[str], list[str]] = ([], [])
        for cell in text.rstrip().removesuffix("|").split("|"):
            parts[bar % bars >= cut].append(cell)
            bar += 1
        before += [f"{pickup}|{'|'.join(parts[0])}|"] if parts[0] else []
        after += [f"|{'|'.join(parts[1])}|"] if parts[1] else []
    return tuple(before), tuple(after)


def _through(turns: tuple[Turn, ...], name: str, first: str, last: str) -> tuple[Turn, ...]:
    """The order with the endings: the last one when the section is played for the last time in a row.

    Where it never is played twice in a row, it is the last time in the form that counts; a section that is
    played once is played twice then, so that both endings are heard.
    """
    plays = sum(turn.times for turn in turns if turn.section == name)
    in_a_row = any(turn.times > 1 for turn in turns if turn.section == name)
    out: list[Turn] = []
    seen = 0
    for turn in turns:
        if turn.section != name:
            out.append(turn)
            continue
        times = 2 if plays == 1 else turn.times
        for number in range(times):
            seen += 1
            ends = number == times - 1 if in_a_row or plays == 1 else seen == plays
            out += [Turn(name), Turn(last if ends else first)]
    return tuple(out)


def _with_bars(override: Override, name: str, cut: int, endings: tuple[str, str]) -> tuple[Override, ...]:
    """A single exception with the bar that it is in: in the endings it is in both."""
    if not isinstance(override, HereOverride) or override.section != name or override.bar <= cut:
        return (override,)
    return tuple(replace(override, section=ending, bar=override.bar - cut) for ending in endings)


def goes_on(piece: Piece, name: str, practice: bool) -> tuple[str, ...]:
    """The sections that follow a section, time after time it is played; the empty text is the end.

    A section that is played several times in a row goes on after the last of them.
    """
    turns = piece.turns(practice)
    return tuple(
        turns[number + 1].section if number + 1 < len(turns) else ""
        for number, turn in enumerate(turns)
        if turn.section == name
    )
