"""A shape on the neck in words."""

from __future__ import annotations

from collections.abc import Callable

from gingham.core.reasons import Reason
from gingham.core.shapes.drawing import Drawn
from gingham.core.shapes.fretting import THUMB, Fretting
from gingham.core.shapes.shape import Shape
from gingham.core.shapes.silent import Silent, not_to_brush
from gingham.words.names import degree_name, listed, signs


def drawn_text(made: Drawn, capo: int, *, ours: bool) -> str:
    """`x02010, held now: effort 1.4 fingers. Also Am7, C6/A.`; what is in the way first."""
    shape = made.shape
    name = f"{shape}, held now" if ours else str(shape)
    if made.held is None:
        return f"{name}: no hand can hold this. Take a finger off, or bring them closer together."
    parts = [f"{name}: effort {made.effort:g} fingers." if made.effort is not None else f"{name}."]
    if made.missing:
        parts.append(f"It leaves out the {listed([degree_name(d) for d in made.missing])}.")
    if made.foreign:
        strings = listed([f"string {string}" for string in made.foreign])
        parts.append(f"Not of the chord: {strings}.")
    if made.names:
        parts.append(f"Its names: {listed([signs(name) for name in made.names])}.")
    frets = [fret + capo for fret in shape.frets if fret]
    if capo and frets:
        parts.append(f"On the neck the fingers stand at frets {min(frets)} to {max(frets)}.")
    return " ".join(parts)


CANNOT_SLIDE = "A shape with open strings cannot slide, nor one past the nut or the neck’s end: its open strings would stay behind."
_FINGERS = {1: "index", 2: "middle", 3: "ring", 4: "little finger", THUMB: "thumb over the neck"}


def told_shape(shape: Shape, fretting: Fretting | None, fret: Callable[[int], str] = str) -> str:
    """`String 6 fret 3, middle; string 5 fret 2, index; strings 4, 3, 2 open; string 1 fret 3, ring.`

    From the highest string number to string 1; `fret` says a fret as the player counts them.
    """
    count, parts = len(shape.frets), list[tuple[str, list[int]]]()
    for string in range(count, 0, -1):
        place = shape.fret(string)
        finger = fretting.fingers[count - string] if fretting is not None else 0
        said = "silent" if place is None else f"fret {fret(place)}" if place else "open"
        said += f", {_FINGERS[finger]}" if place and finger else ""
        if parts and parts[-1][0] == said:
            parts[-1][1].append(string)
        else:
            parts.append((said, [string]))
    words = [f"{_strings(strings)} {said}" for said, strings in parts]
    text = "; ".join(words)
    return text[:1].upper() + text[1:] + "."


def _strings(strings: list[int]) -> str:
    return f"string{'s' if len(strings) > 1 else ''} {listed([str(string) for string in strings])}"


def silent_lines(silent: tuple[Silent, ...]) -> list[str]:
    """How each silent string is kept so."""
    out = []
    for each in silent:
        name = f"String {each.string}"
        out.append(
            {
                "tip": f"{name}: the tip of the {_FINGERS.get(each.finger, '')} finger touches it.",
                "thumb": f"{name}: leave it out, or touch it with the thumb over the neck.",
                "lean": f"{name}: leave it out, or let the {_FINGERS.get(each.finger, '')} lie flatter, to touch it.",
                "avoid": f"{name}: leave it out.",
            }[each.way].replace("little finger finger", "little finger")
        )
    return out


def brush_text(silent: tuple[Silent, ...]) -> str:
    """`Pick this shape, do not brush it: string 5 would sound A.`; empty where it can be brushed."""
    notes = [
        f"string {each.string} would sound {signs(str(each.note))}"
        + (", which is not in the chord" if each.foreign else "")
        for each in not_to_brush(silent)
    ]
    return f"Pick this shape, do not brush it: {listed(notes)}." if notes else ""


def why_text(why: Reason) -> str:
    """Why a shape, or its fingers, were chosen."""
    values = dict(why.values)
    fingers = values.get("fingers")
    if isinstance(fingers, tuple):
        named = [_FINGERS[int(finger)] for finger in fingers]
        values |= {"fingers": listed(named), "s": "" if len(named) > 1 else "s"}
    if "chord" in values:
        values["chord"] = signs(str(values["chord"]))
    return _WHY[why.code].format_map(values)


def known_why_codes() -> set[str]:
    """The codes of `why_text`."""
    return set(_WHY)


_WHY = {
    "shape-yours": "You chose this shape.",
    "fingers-yours": "You chose these fingers.",
    "shape-only": "No other shape of this chord can be held here.",
    "shape-easiest": "The easiest of {count} shapes.",
    "shape-suits": "Not the easiest by itself ({other} is, by {less} fingers): it suits the chords around it.",
    "shape-plucked": "Not the easiest by itself ({other} is): this one sounds what the pattern plucks.",
    "fingers-stay": "Into {chord}, {fingers} stay{s} down.",
    "fingers-slide": "Into {chord}, {fingers} slide{s} along the string.",
}
