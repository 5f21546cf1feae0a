"""Words of the Takes page: titles of takes, what became of a pluck, the difference between two takes."""

from __future__ import annotations

from datetime import date

from gingham.core.listening.analysis import Analysis
from gingham.core.listening.score import Mark
from gingham.core.listening.shelf import Facts, Kept
from gingham.core.music.meter import Meter, count_at
from gingham.language import tr, tr_c
from gingham.words.counts import counted
from gingham.words.dates import when_text
from gingham.words.names import FINGER_NAMES, signs

SOURCES = {
    "microphone": tr_c("sources", "recorded"),
    "file": tr("from a file"),
    "tapped": tr_c("sources", "tapped"),
    "simulated": tr("simulated player"),
}
LEGEND = tr(
    "moved right: late · left: early · dashed: missed · dotted: unclear, not judged · +: nobody planned it"
)
EMPTY = tr(
    "No take yet. Press Record (R), play after the count-in, press it again to stop; or drop a WAV or FLAC file"
    " here. What was heard is then laid over what was meant."
)
NOTHING_ASKED = tr("Type chords in Build first: a take is held against what is to be played.")
_EVEN_MS, _LEVEL = 3.0, 2


def take_lines(kept: Kept, today: date) -> str:
    """A take in the list: its name; when, beats a minute, how much of it held."""
    facts = kept.facts
    tempo = tr("no tempo") if facts.asked.free else f"{facts.tempo or facts.asked.tempo:.0f}"
    held = f" · {round(100 * facts.held / facts.total)} %" if facts.total else ""
    fault = tr(" · not heard") if facts.fault else ""
    return f"{facts.name}\n{when_text(facts.made, today)} · {tempo}{held}{fault}"


def asked_text(facts: Facts) -> str:
    """What the take is held against."""
    asked = facts.asked
    if asked.section is None:
        return tr("the whole piece")
    if asked.bars is None:
        return asked.section
    first, last = asked.bars
    return f"{asked.section}, " + (
        tr("bar {first}", first=first) if first == last else tr("bars {first}–{last}", first=first, last=last)
    )


def late_text(ms: float) -> str:
    """`24 ms late`, `8 ms early`, `on the beat`."""
    whole = round(abs(ms))
    if whole < _EVEN_MS:
        return tr("on the beat")
    return tr("{whole} ms late", whole=whole) if ms > 0 else tr("{whole} ms early", whole=whole)


def mark_text(mark: Mark, meter: Meter) -> str:
    """A pluck of the picture, for the line under it and for those who hear the window."""
    count = count_at(meter, mark.at) if mark.state != "extra" else tr("between")
    where = tr("bar {bar}, {count}", bar=mark.bar, count=count)
    who = FINGER_NAMES.get(mark.finger or "", "") or tr("a pluck")
    string, fret = mark.string, tr("open") if mark.fret == 0 else tr("fret {fret}", fret=mark.fret)
    if mark.state == "extra":
        return tr("{where}: nobody planned this one, string {string}", where=where, string=string)
    what = tr("{where}: {who} on string {string}, {fret}", where=where, who=who, string=string, fret=fret)
    if mark.state == "missed":
        return tr("{what}: not heard", what=what)
    if mark.state == "unclear":
        return tr("{what}: unclear, not judged", what=what)
    if mark.state == "beyond":
        return tr("{what}: not played", what=what)
    late = f", {late_text(mark.late_ms)}" if mark.late_ms is not None else ""
    if mark.state == "wrong" and mark.heard is not None:
        return tr("{what}: string {heard} sounded instead{late}", what=what, heard=mark.heard, late=late)
    return f"{what}{late}"


def difference(before: Analysis, after: Analysis) -> list[str]:
    """What is other in a later take than in an earlier one, each with its numbers."""
    out = []
    (held, total), (held_now, total_now) = before.held, after.held
    if total and total_now:
        shares = round(100 * held / total), round(100 * held_now / total_now)
        if abs(shares[1] - shares[0]) >= _LEVEL:
            way = tr("More") if shares[1] > shares[0] else tr("Fewer")
            out.append(
                tr(
                    "{way} plucks on their strings: {before} → {now} %.",
                    way=way,
                    before=shares[0],
                    now=shares[1],
                )
            )
    one, other = before.report, after.report
    if one.tempo and other.tempo:
        if round(one.tempo) != round(other.tempo):
            way = tr("Faster") if other.tempo > one.tempo else tr("Slower")
            out.append(
                tr(
                    "{way}: {before:.0f} → {now:.0f} beats a minute.",
                    way=way,
                    before=one.tempo,
                    now=other.tempo,
                )
            )
        if abs(one.spread_ms - other.spread_ms) >= _EVEN_MS:
            way = tr("More even") if other.spread_ms < one.spread_ms else tr("Less even")
            out.append(
                tr(
                    "{way}: {before_ms:.0f} → {now_ms:.0f} ms around the beat.",
                    way=way,
                    before_ms=one.spread_ms,
                    now_ms=other.spread_ms,
                )
            )
        out += _fingers_apart(before, after)
        out += _changes_apart(before, after)
    return out or [tr("The two takes are alike.")]


def _fingers_apart(before: Analysis, after: Analysis) -> list[str]:
    known = {finger.finger: finger for finger in before.report.fingers}
    out = []
    for now in after.report.fingers:
        then = known.get(now.finger)
        if then is not None and abs(abs(then.late_ms) - abs(now.late_ms)) >= 2 * _EVEN_MS:
            name = FINGER_NAMES.get(now.finger, now.finger)
            out.append(
                tr(
                    "The {name}: {before} → {now}.",
                    name=name,
                    before=late_text(then.late_ms),
                    now=late_text(now.late_ms),
                )
            )
    return out


def _changes_apart(before: Analysis, after: Analysis) -> list[str]:
    """The change whose waiting has changed most."""
    then: dict[str, float] = {}
    for change in before.report.changes:
        then[change.chord] = max(then.get(change.chord, 0.0), change.ms)
    now: dict[str, float] = {}
    for change in after.report.changes:
        now[change.chord] = max(now.get(change.chord, 0.0), change.ms)
    both = [(abs(then[chord] - now[chord]), chord) for chord in then.keys() & now.keys()]
    if not both or max(both)[0] < 20:
        return []
    chord = max(both)[1]
    return [
        tr(
            "The change to {chord} waits {before_ms:.0f} → {now_ms:.0f} ms.",
            chord=signs(chord),
            before_ms=then[chord],
            now_ms=now[chord],
        )
    ]


def found_again(count: int) -> str:
    """Recordings that the program did not finish."""
    return tr(
        "{how_many} of takes could not be read and stay where they are.", how_many=counted(count, "file")
    )
