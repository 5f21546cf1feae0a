"""Forms, sums, words and tunes as sentences."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.errors import WordsError
from gingham.core.judging.formsum import ChordStay, FormSum, Seam
from gingham.core.judging.inner import InnerMove
from gingham.core.judging.monotony import Sameness
from gingham.core.judging.tune import Carrier, TuneCheck
from gingham.core.music.meter import Meter, count_at, seconds
from gingham.core.patterns.density import DensityVersion
from gingham.core.pieces.form import Turn
from gingham.core.pieces.piece import Section
from gingham.words.bench import counted
from gingham.words.card import PARTS
from gingham.words.names import FINGER_NAMES, ORDINALS, signs

ENDING_NAMES = {
    "stop": "stops",
    "ring": "last bass rings out",
    "pinch": "all fingers at once",
    "roll": "slow roll",
    "brush": "slow brush",
    "fade": "fades, going round",
    "loop": "goes round",
}
_BREATH_S = 10


def jump_text(after: tuple[str, ...], following: str) -> str:
    """Where a section goes on: `then Refrain`, `1st time: first ending; 2nd time: last ending`.

    `after` are the sections that follow, time after time (empty: the end), `following` the one that stands
    next. Empty where it simply goes on to that.
    """
    if all(name == following for name in after):
        return ""
    named = [name or "the end" for name in after]
    if len(set(named)) == 1:
        return f"then {named[0]}"
    parts: list[str] = []
    begin = 0
    for number in range(1, len(named) + 1):
        if number == len(named) or named[number] != named[begin]:
            which = ORDINALS[begin] if number - begin == 1 else f"{ORDINALS[begin]} to {ORDINALS[number - 1]}"
            parts.append(
                f"{which} time: {named[begin]}" if number <= len(ORDINALS) else f"later: {named[begin]}"
            )
            begin = number
        if number >= len(ORDINALS):
            break
    return "; ".join(parts)


def minutes_text(seconds: float) -> str:
    """`2 min 17 s`."""
    whole = round(seconds)
    return f"{whole // 60} min {whole % 60} s" if whole >= 60 else f"{whole} s"


def sum_text(total: FormSum) -> str:
    """`33 bars, 1 min 50 s, 32 changes (17.5 a minute); plucks a second: thumb 1.0, fingers 1.3`."""
    if not total.bars:
        return "no bars yet"
    changes = f"{counted(total.changes, 'change')} ({total.changes_per_minute:g} a minute)"
    plucks = f"plucks a second: thumb {total.thumb_per_s:.1f}, fingers {total.fingers_per_s:.1f}"
    return f"{counted(total.bars, 'bar')}, {minutes_text(total.seconds)}, {changes}; {plucks}"


DENSITY_NAMES = {
    "thumb": "thumb alone",
    "beats": "on the beats",
    "open-end": "end of the bar open",
    "filled": "rests filled",
}


def density_text(version: DensityVersion, places: int) -> str:
    """`on the beats (4 of 8 places)`."""
    return f"{DENSITY_NAMES[version.kind]} ({version.plucked} of {places} places)"


def sameness_text(same: Sameness) -> str:
    """What may be done where one pattern goes on for long; whoever wants it the same leaves it."""
    return (
        f"{same.pattern} goes on unchanged for {same.bars} bars from {same.section} on. Some leave it so; others open the "
        "end of the bar before a change, put a fill into every eighth bar, or play one verse sparser (Density)."
    )


def seam_text(seam: Seam) -> str:
    """Where both ends of a loop are the same chord."""
    if seam.chord is None:
        return ""
    where = f"Where {seam.section} comes round" if seam.section else "Where the piece comes round"
    return (
        f"{where}, {signs(seam.chord)} meets itself: {_number(seam.cells)} passages of the pattern in a row."
    )


def stays_text(stays: tuple[ChordStay, ...]) -> str:
    """How long each chord of a section stays, equal ones together."""
    by: dict[tuple[Fraction, Fraction], list[str]] = {}
    for stay in stays:
        names = by.setdefault((stay.bars, stay.cells), [])
        if signs(stay.chord) not in names:
            names.append(signs(stay.chord))
    parts = [
        f"{', '.join(names)}: {_number(bars)} {'bar' if bars <= 1 else 'bars'}, {_number(cells)}× the pattern"
        for (bars, cells), names in by.items()
    ]
    return "Here, " + "; ".join(parts) + "." if parts else ""


def _number(value: Fraction) -> str:
    whole, part = divmod(value, 1)
    if part and part not in PARTS:
        return str(value)
    return f"{whole or ''}{PARTS.get(part, '')}" or "0"


def placed_text(section: Section, meter: Meter) -> str:
    """What has been made of the words: verses, and whether their places were guessed."""
    try:
        placed = section.placed_words(meter)
    except WordsError:
        return "The words do not fit the bars any more; put bar lines between them."
    if not placed:
        return ""
    verses = max(s.verse for s in placed)
    guessed = any(s.guessed for s in placed)
    how = (
        "where they lie is a guess: set bar lines to say it"
        if guessed
        else "they lie where the bar lines say"
    )
    return f"{counted(len(placed), 'syllable')}, {counted(verses, 'verse')}; {how}."


def breath_text(section: Section, meter: Meter, tempo: int) -> str:
    """How long the longest line of the words lasts at the tempo; empty without words."""
    bars = len(section.chords.bars)
    try:
        placed = section.placed_words(meter)
    except WordsError:
        return ""
    times: dict[int, list[Fraction]] = {}
    for s in placed:
        times.setdefault(s.line, []).append(((s.verse - 1) * bars + s.bar - 1) * meter.bar + s.at)
    if not times:
        return ""
    line, length = max(((n, max(t) - min(t)) for n, t in times.items()), key=lambda each: each[1])
    lasts_s = seconds(length + meter.tempo_beat, meter, tempo)
    said = f"The longest line, {line + 1}, lasts {lasts_s:.1f} s at {tempo}."
    if lasts_s <= _BREATH_S:
        return said
    return f"{said} More than {_BREATH_S} s is much for one breath: part the line, or sing it faster."


def start_text(checks: tuple[TuneCheck, ...]) -> str:
    """Where the first note of the tune is found on the instrument; empty without one."""
    if not checks:
        return ""
    first = checks[0]
    where = f"Begin on {signs(str(first.pitch))}"
    if first.by is not None:
        return f"{where}: the part plucks it with you."
    if not first.carriers:
        return f"{where}."
    best = first.carriers[0]
    return f"{where}: string {best.string}, {f'fret {best.fret}' if best.fret else 'open'}."


def inner_text(move: InnerMove, meter: Meter) -> str:
    """`Dsus4 to D: string 1 from fret 3 to 2, first heard in bar 3 on 3&`."""
    names = f"{signs(move.before)} to {signs(move.after)}"
    what = f"{names}: string {move.string} from fret {move.from_fret} to {move.to_fret}"
    if move.heard_bar is None:
        return f"{what}; nothing plucks it, so nobody hears it."
    return f"{what}, the rest held; first heard in bar {move.heard_bar} on {count_at(meter, move.heard_at)}."


def tune_lines(checks: tuple[TuneCheck, ...], meter: Meter) -> list[str]:
    """A summary, then a line for each note that the part does not sound."""
    if not checks:
        return []
    carried = [c for c in checks if c.by is not None]
    out = [f"The part sounds {len(carried)} of the {counted(len(checks), 'note')} of the tune."]
    for check in checks:
        if check.by is None:
            out.append(_missed(check, meter))
    return out[:9] + ([f"And {len(out) - 9} more."] if len(out) > 9 else [])


def note_text(check: TuneCheck, meter: Meter) -> str:
    """A note of the tune: who plucks it, or what would carry it."""
    if check.by is None:
        return _missed(check, meter)
    where = f"Bar {check.note.bar} on {count_at(meter, check.note.at)}, {signs(str(check.pitch))}"
    return f"{where}: {FINGER_NAMES.get(check.by, check.by)} plucks it."


def _missed(check: TuneCheck, meter: Meter) -> str:
    where = f"Bar {check.note.bar} on {count_at(meter, check.note.at)}, {signs(str(check.pitch))}"
    if not check.carriers:
        return f"{where}: no string near {signs(check.chord)} has it; sing it, or take another shape."
    best = check.carriers[0]
    plucked = " (that string is plucked, at another fret)" if check.string_plucked and not best.shape else ""
    return f"{where}: {_carried(best, check)}{plucked}."


def _carried(best: Carrier, check: TuneCheck) -> str:
    who = FINGER_NAMES[best.finger]
    busy = "" if best.free else f", once the {who} is free there"
    if best.shape:
        return f"{signs(check.chord)} holds it: the {who} on string {best.string} would carry it{busy}"
    how = f"stopped at fret {best.fret}" if best.fret else "left open"
    return f"the {who} on string {best.string}, {how}, would carry it{busy}"


def line_text(section: Section) -> str:
    """`4 bars: Am, F, C, G`: a chord line in words, the first eight chords of it."""
    places = (place.symbol for bar in section.chords.bars for place in bar)
    chords = [signs(symbol) for symbol in places if symbol not in ("/", "%")]
    said = ", ".join(chords[:8]) + (" and so on" if len(chords) > 8 else "")
    return f"{counted(len(section.chords.bars), 'bar')}: {said}" if chords else "no chords"


def turn_text(turn: Turn, bars: int, number: int, count: int) -> str:
    """`Verse, 8 bars, 2 times in a row, turn 1 of 4`."""
    times = f", {turn.times} times in a row" if turn.times > 1 else ""
    return f"{turn.section}, {bars} {'bar' if bars == 1 else 'bars'}{times}, turn {number} of {count}"
