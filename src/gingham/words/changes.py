"""Chord changes in words: what each finger does, until when, what the picking hand does."""

from __future__ import annotations

from gingham.core.judging.changes import Change, FingerMove
from gingham.core.music.meter import Meter, seconds
from gingham.words.names import listed, signs


def change_title(change: Change) -> str:
    """`C to G, bar 2`, the seam said as such."""
    back = ", back to the start" if change.seam else f", bar {change.bar}"
    return f"{signs(change.before)} to {signs(change.after)}{back}"


def finger_text(move: FingerMove, meter: Meter, tempo: int) -> str:
    """`finger 3 to string 6 fret 3: 3 places, 1.25 s`."""
    if move.to_place is None:
        return f"finger {move.finger} lifts"
    string, fret = move.to_place
    if move.kind == "stays":
        return f"finger {move.finger} stays"
    verb = "slides on its string to" if move.kind == "slides" else "to"
    where = f"finger {move.finger} {verb} string {string} fret {fret}"
    if move.window is None or move.slots is None:
        return f"{where}: not plucked, any time"
    noun = "place" if move.slots == 1 else "places"
    return f"{where}: {float(move.slots):g} {noun}, {seconds(move.window, meter, tempo):.2f} s"


def picking_text(change: Change) -> str:
    """What the picking hand must do."""
    if change.picking == "nothing":
        return "The picking hand goes on as it is."
    if change.picking == "thumb":
        one, other = change.thumb
        return (
            f"Only the thumb moves, from string {one} to {other}."
            if one != other
            else "Only the thumb moves."
        )
    return "The picking hand moves over to other strings."


def change_text(change: Change, meter: Meter, tempo: int) -> str:
    """The whole change in a few sentences, fingers in order of landing."""
    stay = [str(m.finger) for m in change.fingers if m.kind == "stays"]
    parts = []
    if stay:
        noun, verb = ("Finger", "stays") if len(stay) == 1 else ("Fingers", "stay")
        parts.append(f"{noun} {listed(stay)} {verb}.")
    land = [finger_text(m, meter, tempo) for m in change.fingers if m.kind not in ("stays", "lifts")]
    if land:
        text = "; ".join(land)
        parts.append(f"{text[:1].upper()}{text[1:]}.")
    parts.append(picking_text(change))
    if change.squeak:
        parts.append("A finger slides along a wound string: it may squeak.")
    return " ".join(parts)
