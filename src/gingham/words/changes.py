"""Chord changes in words: what stays, when each finger may lift and must land, what the picking hand does."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.judging.changes import Change, FingerMove
from gingham.core.music.meter import Meter, count_at, seconds
from gingham.core.shapes.fretting import THUMB
from gingham.language import figure, tr, tr_n
from gingham.words.names import listed, signs


def change_title(change: Change) -> str:
    """`C to G, bar 2`, the seam said as such."""
    back = tr(", back to the start") if change.seam else tr(", bar {bar}", bar=change.bar)
    return tr("{before} to {after}{back}", before=signs(change.before), after=signs(change.after), back=back)


def fretting_finger(finger: int) -> str:
    """`finger 3`, `the thumb`."""
    return tr("the thumb") if finger == THUMB else tr("finger {finger}", finger=finger)


def finger_text(move: FingerMove, change: Change, meter: Meter, tempo: int) -> str:
    """`finger 3, free from 3&, lands on string 6 fret 3 by beat 1: 1.5 beats, 1.2 s`."""
    who = fretting_finger(move.finger)
    if move.to_place is None:
        return tr("{who} lifts{from_when}", who=who, from_when=_from(move, change, meter))
    if move.kind == "stays":
        return tr("{who} stays", who=who)
    string, fret = move.to_place
    verb = tr("slides on its string to") if move.kind == "slides" else tr("lands on")
    where = tr(
        "{who}{free} {verb} string {string} fret {fret}",
        who=who,
        free=_free(move, change, meter),
        verb=verb,
        string=string,
        fret=fret,
    )
    return f"{where}{_until(move, change, meter, tempo)}"


def block_text(change: Change, meter: Meter, tempo: int) -> str:
    """`The whole shape slides 2 frets down, free from 4&, by beat 1: 0.5 beats, 0.4 s.`"""
    move = change.fingers[0]
    frets, way = abs(change.block), tr("up") if change.block > 0 else tr("down")
    what = tr_n(
        "The whole shape slides {n} fret {way}", "The whole shape slides {n} frets {way}", frets, way=way
    )
    return f"{what}{_free(move, change, meter)}{_until(move, change, meter, tempo)}."


def picking_text(change: Change) -> str:
    """What the picking hand must do."""
    if change.picking == "nothing":
        return tr("The picking hand goes on as it is.")
    one, other = change.thumb
    way = (
        tr(" from string {one} to {other}", one=one, other=other) if one != other and one and other else ""
    )  # 0: no bass there
    if change.picking == "thumb":
        if not way:
            return tr("Of the picking hand, only the thumb moves.")
        return tr("Of the picking hand, only the thumb moves,{way}.", way=way)
    if not way:
        return tr("The picking hand moves over to other strings.")
    return tr("The picking hand moves over to other strings, the thumb{way}.", way=way)


def change_text(change: Change, meter: Meter, tempo: int) -> str:
    """The whole change in a few sentences, fingers in order of landing."""
    stay = [fretting_finger(m.finger) for m in change.fingers if m.kind == "stays"]
    parts = []
    if stay:
        parts.append(_sentence(tr_n("{fingers} stays", "{fingers} stay", len(stay), fingers=listed(stay))))
    if change.block:
        parts.append(block_text(change, meter, tempo))
    else:
        land = [m for m in change.fingers if m.kind not in ("stays", "lifts")]
        if land:
            parts.append(_sentence("; ".join(finger_text(m, change, meter, tempo) for m in land)))
    lifted = [m for m in change.fingers if m.kind == "lifts"]
    if lifted:
        parts.append(_sentence("; ".join(finger_text(m, change, meter, tempo) for m in lifted)))
    parts.append(picking_text(change))
    if change.squeak:
        parts.append(tr("A finger slides along a wound string: it may squeak."))
    return " ".join(parts)


def _sentence(text: str) -> str:
    return f"{text[:1].upper()}{text[1:]}."


def _count(time: Fraction, change: Change, meter: Meter) -> str:
    """The count of a time from the change."""
    return count_at(meter, (change.at + time) % meter.bar)


def _free(move: FingerMove, change: Change, meter: Meter) -> str:
    if move.from_place is None or move.free is None:
        return ""
    return tr(", free{from_when},", from_when=_from(move, change, meter))


def _from(move: FingerMove, change: Change, meter: Meter) -> str:
    """From when a finger may lift; nothing where it holds no string that is plucked."""
    if move.free is None or _always(move, meter):
        return tr(" at any time")
    if move.free == 0:
        return tr(" at the change")
    return tr(" from {beat}", beat=_beat(_count(move.free, change, meter)))


def _always(move: FingerMove, meter: Meter) -> bool:
    """Whether nothing that a finger holds is plucked in the bar before the change."""
    return move.free is None or move.free <= -meter.bar


def _until(move: FingerMove, change: Change, meter: Meter, tempo: int) -> str:
    if move.window is None or move.due is None:
        return tr(" at any time: it is not plucked")
    by = tr(" by {beat}", beat=_beat(_count(move.due, change, meter)))
    if move.window <= 0:
        return tr("{by}: no time at all", by=by)
    beats = move.window / meter.tempo_beat
    how_many = figure(round(float(beats), 2), "g")
    long = tr_n("{figure} beat", "{figure} beats", 1 if beats == 1 else 2, figure=how_many)
    return f"{by}: {long}, {_tenths(move.window, meter, tempo)}"


def _beat(count: str) -> str:
    """`beat 1`, but `1&` as it is counted."""
    return tr("beat {count}", count=count) if count.isdigit() else count


def _tenths(window: Fraction, meter: Meter, tempo: int) -> str:
    """`1.2 s`: nobody feels more than a tenth of a second here."""
    time = seconds(window, meter, tempo)
    return tr("{time:.1f} s", time=time) if time >= 0.05 else tr("under 0.1 s")


def move_text(move: FingerMove, change: Change, meter: Meter) -> str:
    """One finger beside the picture of its window: `from 3&, by beat 1`: free since then, set by then."""
    if move.kind == "stays":
        return tr("stays")
    if move.to_place is None:
        return tr("lifts, is free")
    verb = tr("slides") if move.kind == "slides" else tr("lands")
    by = (
        tr("by {beat}", beat=_beat(_count(move.due, change, meter)))
        if move.due is not None
        else tr("any time")
    )
    if move.from_place is None or move.free is None or move.due is None:
        return f"{verb} {by}"
    since = tr("any time") if _always(move, meter) else _from(move, change, meter).strip()
    return tr("slides {since}, {by}", since=since, by=by) if move.kind == "slides" else f"{since}, {by}"


def window_text(move: FingerMove, meter: Meter, tempo: int) -> str:
    """`0.8 s`, `no time`; nothing for a finger that need not be anywhere."""
    if move.window is None or move.due is None or move.kind == "stays":
        return ""
    return tr("no time") if move.window <= 0 else _tenths(move.window, meter, tempo)
