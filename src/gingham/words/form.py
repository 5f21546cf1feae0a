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
from gingham.language import tr, tr_c, tr_n
from gingham.words.card import PARTS
from gingham.words.counts import counted
from gingham.words.names import FINGER_NAMES, ORDINALS, signs

ENDING_NAMES = {
    "stop": tr_c("ending names", "stops"),
    "ring": tr("last bass rings out"),
    "pinch": tr("all fingers at once"),
    "roll": tr("slow roll"),
    "brush": tr("slow brush"),
    "fade": tr("fades, going round"),
    "loop": tr("goes round"),
}
_BREATH_S = 10


def jump_text(after: tuple[str, ...], following: str) -> str:
    """Where a section goes on: `then Refrain`, `1st time: first ending; 2nd time: last ending`.

    `after` are the sections that follow, time after time (empty: the end), `following` the one that stands
    next. Empty where it simply goes on to that.
    """
    if all(name == following for name in after):
        return ""
    named = [name or tr("the end") for name in after]
    if len(set(named)) == 1:
        return tr("then {named}", named=named[0])
    parts: list[str] = []
    begin = 0
    for number in range(1, len(named) + 1):
        if number == len(named) or named[number] != named[begin]:
            which = (
                ORDINALS[begin]
                if number - begin == 1
                else tr("{begin} to {ordinals}", begin=ORDINALS[begin], ordinals=ORDINALS[number - 1])
            )
            parts.append(
                tr("{which} time: {begin}", which=which, begin=named[begin])
                if number <= len(ORDINALS)
                else tr("later: {begin}", begin=named[begin])
            )
            begin = number
        if number >= len(ORDINALS):
            break
    return "; ".join(parts)


def minutes_text(seconds: float) -> str:
    """`2 min 17 s`."""
    whole = round(seconds)
    return (
        tr("{minutes} min {seconds} s", minutes=whole // 60, seconds=whole % 60)
        if whole >= 60
        else f"{whole} s"
    )


def sum_text(total: FormSum) -> str:
    """`33 bars, 1 min 50 s, 32 changes (17.5 a minute); plucks a second: thumb 1.0, fingers 1.3`."""
    if not total.bars:
        return tr("no bars yet")
    changes = tr(
        "{how_many} ({changes_per_minute:g} a minute)",
        how_many=counted(total.changes, "change"),
        changes_per_minute=total.changes_per_minute,
    )
    plucks = tr(
        "plucks a second: thumb {thumb_per_s:.1f}, fingers {fingers_per_s:.1f}",
        thumb_per_s=total.thumb_per_s,
        fingers_per_s=total.fingers_per_s,
    )
    return f"{counted(total.bars, 'bar')}, {minutes_text(total.seconds)}, {changes}; {plucks}"


DENSITY_NAMES = {
    "thumb": tr("thumb alone"),
    "beats": tr("on the beats"),
    "open-end": tr("end of the bar open"),
    "filled": tr("rests filled"),
}


def density_text(version: DensityVersion, places: int) -> str:
    """`on the beats (4 of 8 places)`."""
    return tr(
        "{kind} ({plucked} of {places} places)",
        kind=DENSITY_NAMES[version.kind],
        plucked=version.plucked,
        places=places,
    )


def sameness_text(same: Sameness) -> str:
    """What may be done where one pattern goes on for long; whoever wants it the same leaves it."""
    return tr(
        "{pattern} goes on unchanged for {bars} bars from {section} on. Some leave it so; "
        "others open the end of the bar before a change, put a fill into every eighth bar, "
        "or play one verse sparser (Density).",
        pattern=same.pattern,
        bars=same.bars,
        section=same.section,
    )


def seam_text(seam: Seam) -> str:
    """Where both ends of a loop are the same chord."""
    if seam.chord is None:
        return ""
    where = (
        tr("Where {section} comes round", section=seam.section)
        if seam.section
        else tr("Where the piece comes round")
    )
    return tr(
        "{where}, {chord} meets itself: {number} passages of the pattern in a row.",
        where=where,
        chord=signs(seam.chord),
        number=_number(seam.cells),
    )


def stays_text(stays: tuple[ChordStay, ...]) -> str:
    """How long each chord of a section stays, equal ones together."""
    by: dict[tuple[Fraction, Fraction], list[str]] = {}
    for stay in stays:
        names = by.setdefault((stay.bars, stay.cells), [])
        if signs(stay.chord) not in names:
            names.append(signs(stay.chord))
    parts = [
        tr_n(
            "{names}: {bars} bar, {times}× the pattern",
            "{names}: {bars} bars, {times}× the pattern",
            1 if bars <= 1 else 2,
            names=", ".join(names),
            bars=_number(bars),
            times=_number(cells),
        )
        for (bars, cells), names in by.items()
    ]
    return tr("Here, ") + "; ".join(parts) + "." if parts else ""


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
        return tr("The words do not fit the bars any more; put bar lines between them.")
    if not placed:
        return ""
    verses = max(s.verse for s in placed)
    guessed = any(s.guessed for s in placed)
    how = (
        tr("where they lie is a guess: set bar lines to say it")
        if guessed
        else tr("they lie where the bar lines say")
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
    said = tr(
        "The longest line, {line}, lasts {lasts_s:.1f} s at {tempo}.",
        line=line + 1,
        lasts_s=lasts_s,
        tempo=tempo,
    )
    if lasts_s <= _BREATH_S:
        return said
    return tr(
        "{said} More than {breath_s} s is much for one breath: part the line, or sing it faster.",
        said=said,
        breath_s=_BREATH_S,
    )


def start_text(checks: tuple[TuneCheck, ...]) -> str:
    """Where the first note of the tune is found on the instrument; empty without one."""
    if not checks:
        return ""
    first = checks[0]
    where = tr("Begin on {pitch}", pitch=signs(str(first.pitch)))
    if first.by is not None:
        return tr("{where}: the part plucks it with you.", where=where)
    if not first.carriers:
        return f"{where}."
    best = first.carriers[0]
    if not best.fret:
        return tr("{where}: string {string}, open.", where=where, string=best.string)
    return tr("{where}: string {string}, fret {fret}.", where=where, string=best.string, fret=best.fret)


def inner_text(move: InnerMove, meter: Meter) -> str:
    """`Dsus4 to D: string 1 from fret 3 to 2, first heard in bar 3 on 3&`."""
    names = tr("{before} to {after}", before=signs(move.before), after=signs(move.after))
    what = tr(
        "{names}: string {string} from fret {from_fret} to {to_fret}",
        names=names,
        string=move.string,
        from_fret=move.from_fret,
        to_fret=move.to_fret,
    )
    if move.heard_bar is None:
        return tr("{what}; nothing plucks it, so nobody hears it.", what=what)
    return tr(
        "{what}, the rest held; first heard in bar {heard_bar} on {count_at}.",
        what=what,
        heard_bar=move.heard_bar,
        count_at=count_at(meter, move.heard_at),
    )


def tune_lines(checks: tuple[TuneCheck, ...], meter: Meter) -> list[str]:
    """A summary, then a line for each note that the part does not sound."""
    if not checks:
        return []
    carried = [c for c in checks if c.by is not None]
    out = [
        tr(
            "The part sounds {carried} of the {how_many} of the tune.",
            carried=len(carried),
            how_many=counted(len(checks), "note"),
        )
    ]
    for check in checks:
        if check.by is None:
            out.append(_missed(check, meter))
    return out[:9] + ([tr("And {others} more.", others=len(out) - 9)] if len(out) > 9 else [])


def note_text(check: TuneCheck, meter: Meter) -> str:
    """A note of the tune: who plucks it, or what would carry it."""
    if check.by is None:
        return _missed(check, meter)
    where = tr(
        "Bar {bar} on {count_at}, {pitch}",
        bar=check.note.bar,
        count_at=count_at(meter, check.note.at),
        pitch=signs(str(check.pitch)),
    )
    return tr("{where}: {by} plucks it.", where=where, by=FINGER_NAMES.get(check.by, check.by))


def _missed(check: TuneCheck, meter: Meter) -> str:
    where = tr(
        "Bar {bar} on {count_at}, {pitch}",
        bar=check.note.bar,
        count_at=count_at(meter, check.note.at),
        pitch=signs(str(check.pitch)),
    )
    if not check.carriers:
        return tr(
            "{where}: no string near {chord} has it; sing it, or take another shape.",
            where=where,
            chord=signs(check.chord),
        )
    best = check.carriers[0]
    plucked = (
        tr(" (that string is plucked, at another fret)") if check.string_plucked and not best.shape else ""
    )
    return f"{where}: {_carried(best, check)}{plucked}."


def _carried(best: Carrier, check: TuneCheck) -> str:
    who = FINGER_NAMES[best.finger]
    busy = "" if best.free else tr(", once the {who} is free there", who=who)
    if best.shape:
        return tr(
            "{chord} holds it: the {who} on string {string} would carry it{busy}",
            chord=signs(check.chord),
            who=who,
            string=best.string,
            busy=busy,
        )
    how = tr("stopped at fret {fret}", fret=best.fret) if best.fret else tr("left open")
    return tr(
        "the {who} on string {string}, {how}, would carry it{busy}",
        who=who,
        string=best.string,
        how=how,
        busy=busy,
    )


def line_text(section: Section) -> str:
    """`4 bars: Am, F, C, G`: a chord line in words, the first eight chords of it."""
    places = (place.symbol for bar in section.chords.bars for place in bar)
    chords = [signs(symbol) for symbol in places if symbol not in ("/", "%")]
    said = ", ".join(chords[:8]) + (tr(" and so on") if len(chords) > 8 else "")
    return f"{counted(len(section.chords.bars), 'bar')}: {said}" if chords else tr("no chords")


def turn_text(turn: Turn, bars: int, number: int, count: int) -> str:
    """`Verse, 8 bars, 2 times in a row, turn 1 of 4`."""
    times = tr(", {times} times in a row", times=turn.times) if turn.times > 1 else ""
    return tr_n(
        "{section}, {n} bar{times}, turn {number} of {count}",
        "{section}, {n} bars{times}, turn {number} of {count}",
        bars,
        section=turn.section,
        times=times,
        number=number,
        count=count,
    )
