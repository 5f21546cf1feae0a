"""The reasons for one chord, as the lines of the panel beside the picture."""

from __future__ import annotations

import msgspec

from gingham.core.fitting.result import Assignment, Event, FittedSpan, Result
from gingham.core.fitting.strokes import pitch_on
from gingham.core.judging.changes import change_into
from gingham.core.judging.heard import BringIn, bring_in, missing
from gingham.core.judging.holding import free_fingers, slips
from gingham.core.judging.part import part_under, resting_strings, times_played
from gingham.core.judging.remarks import remarks_on
from gingham.core.judging.stringing import Unison, lowest_string, unisons
from gingham.core.music.chords import Chord
from gingham.core.music.key import Key
from gingham.core.music.meter import count_at
from gingham.core.music.numeral import numeral
from gingham.core.patterns.pattern import Pluck
from gingham.core.pieces.piece import HereOverride, Override, RulesOverride
from gingham.core.shapes.naming import names_of
from gingham.language import tr, tr_c, tr_n
from gingham.words.bench import part_text, rest_text, times_text
from gingham.words.changes import change_text
from gingham.words.counts import strings_text
from gingham.words.names import FINGER_NAMES, ORDINALS, PLUCKERS, degree_name, lane_name, listed, signs
from gingham.words.naming import FRET_NAMINGS, USUAL, Naming
from gingham.words.plans import explained, own_text
from gingham.words.reasons import problem_text, reason_text, reasons_text


class PanelLine(msgspec.Struct, frozen=True):
    """One line of the panel: `kind` is head, text, quiet or fault; `why` is a quieter sentence after it."""

    kind: str
    text: str
    why: str = ""


def where_text(result: Result, fitted: FittedSpan) -> str:
    """`D, bar 3 from beat 3`."""
    span = fitted.span
    name = signs(span.chord.text) if span.chord else tr("Silence")
    bar = tr("the pick-up") if span.bar == 0 else tr("bar {bar}", bar=span.bar)
    if span.at == 0:
        return f"{name}, {bar}"
    return tr(
        "{name}, {bar} from beat {count_at}",
        name=name,
        bar=bar,
        count_at=count_at(result.piece.meter, span.at),
    )


def chord_lines(result: Result, index: int, naming: Naming = USUAL) -> list[PanelLine]:
    """Which string each bass and finger takes on this chord, why, what is heard, what stands in the way.

    `naming` says how frets are counted.
    """
    fitted = result.spans[index]
    lines = [PanelLine("head", where_text(result, fitted))]
    if fitted.assignment is None:
        why = tr("Nothing sounds here.") if fitted.span.chord is None else ""
        return [*lines, *([PanelLine("text", why)] if why else []), *_faults(result, index)]
    assignment = fitted.assignment
    if result.piece.capo:
        lines.append(
            PanelLine(
                "quiet",
                tr(
                    "sounds {text} with the capo at {capo}; frets count {frets}",
                    text=signs(assignment.sounding.text),
                    capo=result.piece.capo,
                    frets=FRET_NAMINGS[naming.frets],
                ),
            )
        )
    lines.append(PanelLine("quiet", numeral_text(assignment.chord, result.piece.shape_key())))
    lines += _bass_lines(result, assignment, naming)
    lines += _lowest_lines(result, index, naming)
    lines += _finger_lines(result, fitted, assignment)
    lines += _walk_lines(result, index, naming)
    part = part_under(result, index)
    here = part_text(part) if part is not None else times_text(times_played(result, index))
    lines += [PanelLine("quiet", here)] if here else []
    lines += [PanelLine("quiet", rest_text(rest)) for rest in resting_strings(result, index)]
    lines += _heard_lines(result, fitted)
    lines += [PanelLine("quiet", unison_text(each)) for each in unisons(result, index)]
    lines += _hold_lines(result, index)
    return [*lines, *_faults(result, index), *_change_lines(result, index)]


def numeral_text(chord: Chord, key: Key) -> str:
    """`V7 in G, seventh in the bass`: the chord in the key of the shapes."""
    over = ""
    if chord.bass is not None and chord.bass.pitch_class != chord.root.pitch_class:
        over = tr(
            ", {degree_name} in the bass",
            degree_name=degree_name(str(chord.tone_at(chord.bass.pitch_class)[0])),
        )
    name = numeral(chord, key).replace("b", "♭").replace("#", "♯")
    return tr("{name} in {key}{over}", name=name, key=signs(str(key)), over=over)


def _walk_lines(result: Result, index: int, naming: Naming) -> list[PanelLine]:
    """Which thumb strokes walk into the next chord, and what they take the place of."""
    steps = [
        event
        for bar in result.bars_of(index)
        for event in bar.events
        if event.kind == "walk" and index == max(i for i in bar.spans if _begun(result, i, bar.number, event))
    ]
    if not steps:
        return []
    capo = result.piece.capo
    places = listed(
        [
            tr("string {string} {place}", string=e.string, place=_place(e.fret or 0, naming, capo))
            for e in steps
        ]
    )
    instead = listed([tr("string {instead}", instead=e.instead) for e in steps])
    return [
        PanelLine(
            "text",
            tr("The thumb walks on: {places}.", places=places),
            tr("In place of {instead}.", instead=instead),
        )
    ]


def _begun(result: Result, index: int, bar: int, event: Event) -> bool:
    span = result.spans[index].span
    return (span.bar, span.at) <= (bar, event.at)


def _change_lines(result: Result, index: int) -> list[PanelLine]:
    """What the hands do to get here from the chord before (for the first chord: from the last one)."""
    change = change_into(result, index) if len(result.spans) > 1 else None
    if change is None:
        return []
    piece = result.piece
    names = {"before": signs(change.before), "after": signs(change.after)}
    title = (
        tr("{before} to {after} (going round)", **names)
        if change.seam
        else tr("{before} to {after}", **names)
    )
    return [PanelLine("text", f"{title}:", change_text(change, piece.meter, piece.tempo))]


def _bass_lines(result: Result, assignment: Assignment, naming: Naming) -> list[PanelLine]:
    out: list[PanelLine] = []
    noun = tr("thumb string") if result.piece.instrument.reentrant else tr("bass")
    for number, choice in enumerate(assignment.basses):
        name = f"{ORDINALS[number].capitalize()} {noun}"
        out.append(
            PanelLine(
                "text",
                f"{name}: {_string_text(result, assignment, choice.string, naming, choice.fret)}.",
                reasons_text(choice.reasons),
            )
        )
    return out


def _lowest_lines(result: Result, index: int, naming: Naming) -> list[PanelLine]:
    """On re-entrant strings: which one is lowest here, since it is seldom the one of the highest number."""
    lowest = lowest_string(result, index) if result.piece.instrument.reentrant else None
    assignment = result.spans[index].assignment
    if lowest is None or assignment is None:
        return []
    above = [str(choice.string) for choice in assignment.basses if choice.string > lowest]
    more = tr("String {above} sounds above it, so it is no bass.", above=above[0]) if above else ""
    if len(above) > 1:
        more = tr("Strings {above} sound above it, so they are no basses.", above=listed(above))
    return [
        PanelLine(
            "quiet",
            tr("Lowest here: {string}.", string=_string_text(result, assignment, lowest, naming)),
            more,
        )
    ]


def unison_text(each: Unison) -> str:
    """`Thumb and ring sound the same A on strings 4 and 1 (bar 2 at 1, 2 times).`"""
    who = listed([PLUCKERS[plucker] for plucker in each.pluckers])
    strings = listed([str(string) for string in each.strings])
    often = "" if each.times == 1 else tr(", {times} times", times=each.times)
    note = signs(str(each.pitch.note))
    return tr(
        "{who} sound the same {note} on strings {strings} (bar {bar} at {count}{often}).",
        who=who.capitalize(),
        note=note,
        strings=strings,
        bar=each.bar,
        count=each.count,
        often=often,
    )


def _place(fret: int, naming: Naming, capo: int) -> str:
    return tr("fret {fret}", fret=naming.fret(fret, capo)) if fret else tr("open")


def _string_text(
    result: Result, assignment: Assignment, string: int, naming: Naming, fret: int | None = None
) -> str:
    """`string 6, fret 3, G, the root`."""
    if fret is None and string <= len(assignment.shape.frets):
        fret = assignment.shape.fret(string)
    if fret is None:
        return tr("string {string}, which is silent in this shape", string=string)
    piece = result.piece
    pitch, degree = pitch_on(assignment, piece.instrument, piece.capo, string, fret)
    _, note, _ = assignment.chord.tone_at(piece.instrument.open_midi(string) + fret)
    place = _place(fret, naming, piece.capo)
    sounds = tr(" (sounds {note})", note=signs(str(pitch.note))) if pitch and piece.capo else ""
    return tr(
        "string {string} {place}, {note}{sounds}, the {degree_name}",
        string=string,
        place=place,
        note=signs(str(note)),
        sounds=sounds,
        degree_name=degree_name(degree or "1"),
    )


_CROWDED = tr(
    "Three fingers and two thumb strings do not all fit here: let the thumb stay on its bass, "
    "use one finger fewer, or take the fifth on string 5."
)


def _finger_lines(result: Result, fitted: FittedSpan, assignment: Assignment) -> list[PanelLine]:
    strokes = result.pattern.as_variant(assignment.variant).strokes()
    used = {stroke.finger for _, stroke in strokes if isinstance(stroke, Pluck)}
    shown = [(finger, choice) for finger, choice in assignment.fingers if finger in used or choice.overridden]
    if not shown:
        return []
    if assignment.hand == "pick":
        strings = listed([str(choice.string) for _, choice in shown])
        return [PanelLine("text", tr("Beside the basses the pick takes string {strings}.", strings=strings))]
    words = [
        tr("{finger} on string {string}", finger=FINGER_NAMES[finger], string=choice.string)
        for finger, choice in shown
    ]
    text = listed(words)
    codes = {reason.code for _, choice in shown for reason in choice.reasons}
    moved = tr("The thumb needs string 3 here, so the fingers move over by one.")
    out = [PanelLine("text", f"{text[:1].upper()}{text[1:]}.", moved if "finger-shifted" in codes else "")]
    if "finger-shifted" in codes and [choice.string for _, choice in shown].count(1) > 1:
        out.append(PanelLine("fault", _CROWDED))
    out += [
        PanelLine("quiet", f"{FINGER_NAMES[finger].capitalize()}: {reason_text(choice.reasons[0])}.")
        for finger, choice in shown
        if choice.overridden
    ]
    return out


def _heard_lines(result: Result, fitted: FittedSpan) -> list[PanelLine]:
    if not fitted.heard:
        return [PanelLine("quiet", tr("No string is plucked on this chord."))]
    return [
        PanelLine(
            "text",
            tr(
                "You hear the {degree_name}.",
                degree_name=listed([degree_name(degree) for degree in fitted.heard]),
            ),
        )
    ]


def _hold_lines(result: Result, index: int) -> list[PanelLine]:
    fitted = result.spans[index]
    free = sorted(free_fingers(fitted))
    if not free:
        return []
    digits = listed([str(finger) for finger in free])
    away = slips(result, index)
    strings = strings_text(away)
    why = tr("Holding all of it keeps a slip onto {strings} in the chord.", strings=strings) if away else ""
    return [
        PanelLine(
            "quiet",
            tr_n(
                "Hold {hold}: fretting finger {digits} is free.",
                "Hold {hold}: fretting fingers {digits} are free.",
                len(free),
                hold=fitted.hold,
                digits=digits,
            ),
            why,
        )
    ]


def _faults(result: Result, index: int) -> list[PanelLine]:
    """Problems of this span's time, each sentence once, with how often it happens."""
    fitted = result.spans[index]
    found = [p for bar in result.bars_of(index) for p in bar.problems if result.span_at(bar, p.at) == index]
    found += fitted.faults
    found += remarks_on(result, index)
    counts: dict[str, int] = {}
    for problem in found:
        text = problem_text(problem)
        counts[text] = counts.get(text, 0) + 1
    helps = [bring_in(result, index, degree) for degree in missing(result, index)]
    tips = [PanelLine("quiet", bring_in_text(each)) for each in helps if each is not None]
    assignment = fitted.assignment
    if assignment is not None and any(note.code == "foreign-tone" for note in assignment.notes):
        names = names_of(
            assignment.shape, result.piece.instrument, result.piece.capo, result.piece.shape_key(), 2
        )
        also = listed([signs(name.text) for name in names])
        tips += (
            [
                PanelLine(
                    "quiet",
                    tr("The shape {shape} would be called {also}.", shape=assignment.shape, also=also),
                )
            ]
            if also
            else []
        )
    faults = [
        PanelLine("fault", text if n == 1 else tr("{remark} ({times} times)", remark=text, times=n))
        for text, n in counts.items()
    ]
    return [*faults, *tips]


def bring_in_text(each: BringIn) -> str:
    """The smallest change that makes a missing tone heard."""
    return tr(
        "The {lane_name} on string {string} would bring the {degree_name} in.",
        lane_name=lane_name(each.lane),
        string=each.string,
        degree_name=degree_name(each.degree),
    )


_KINDS = {
    "brush-down": tr_c("kinds", "brush"),
    "brush-up": tr_c("kinds", "up-brush"),
    "chuck": tr_c("kinds", "chuck"),
    "hammer": tr_c("kinds", "hammer-on"),
    "pull": tr_c("kinds", "pull-off"),
    "slide": tr_c("kinds", "slide"),
    "walk": tr("thumb, walking"),
}


def event_text(event: Event, capo: int = 0) -> str:
    """One pluck in words: `Middle on string 2 fret 1: C, the minor third.`

    Under a capo the fret is counted from it, and the fret on the neck is said too.
    """
    who = _KINDS.get(event.kind) or (PLUCKERS[event.plucker] if event.plucker else tr("pluck"))
    if event.silent:
        return tr(
            "{who} on string {string}: left out here.",
            who=who.capitalize(),
            string=event.string,
        )
    if event.fret is None or event.pitch is None:
        return tr(
            "{who} on string {string}: silent in this shape.",
            who=who.capitalize(),
            string=event.string,
        )
    place = tr("open") if event.fret == 0 else tr("fret {fret}", fret=event.fret)
    if capo:
        place += tr(" (fret {fret} on the neck)", fret=event.fret + capo)
    note = signs(str(event.pitch.note))
    instead = tr(" Instead of string {instead}.", instead=event.instead) if event.instead is not None else ""
    what = tr("{note}, the {degree_name}", note=note, degree_name=degree_name(event.degree or "1"))
    return tr(
        "{who} on string {string} {place}: {what}.{instead}",
        who=who.capitalize(),
        string=event.string,
        place=place,
        what=what,
        instead=instead,
    )


def place_text(result: Result, span: int, bar: int, count: str, events: list[Event]) -> str:
    """`Am7, bar 2 at 1: thumb on string 5 open, middle on string 2 fret 1`, for those who hear the picture."""
    chord = result.spans[span].span.chord if 0 <= span < len(result.spans) else None
    name = f"{signs(chord.text)}, " if chord is not None else ""
    plucks = [event_text(event, result.piece.capo).split(":")[0].rstrip(".").lower() for event in events]
    return tr(
        "{name}bar {bar} at {count}: {plucks}",
        name=name,
        bar=bar,
        count=count,
        plucks=", ".join(plucks) or tr("rest"),
    )


def override_text(override: Override) -> str:
    """An exception in words, with the player's reason: `D: middle on string 1 – the tune is there`."""
    return explained(_override_text(override), override.because)


def _override_text(override: Override) -> str:
    if isinstance(override, HereOverride):
        where = tr("{section}, bar {bar}", section=override.section, bar=override.bar)
        what = (
            tr("is left out") if override.string is None else tr("on string {string}", string=override.string)
        )
        return f"{where}: {FINGER_NAMES[override.finger]} {what}"
    if isinstance(override, RulesOverride):
        return f"{signs(override.symbol)}: {own_text(override.own)}"
    return tr(
        "{symbol}: {lane_name} on string {string}",
        symbol=signs(override.symbol),
        lane_name=lane_name(override.lane),
        string=override.string,
    )


def asleep_text(count: int) -> str:
    """What the list says of exceptions whose pluck is gone."""
    return tr("asleep: no pluck there now") if count else ""
