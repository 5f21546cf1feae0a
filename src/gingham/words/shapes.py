"""A shape on the neck in words."""

from __future__ import annotations

from collections.abc import Callable

from gingham.core.reasons import Reason
from gingham.core.shapes.drawing import Drawn
from gingham.core.shapes.fretting import THUMB, Fretting
from gingham.core.shapes.shape import Shape
from gingham.core.shapes.silent import Silent, not_to_brush
from gingham.language import tr, tr_c, tr_n
from gingham.words.counts import strings_text
from gingham.words.names import degree_name, listed, signs


def drawn_text(made: Drawn, capo: int, *, ours: bool) -> str:
    """`x02010, held now: effort 1.4 fingers. Also Am7, C6/A.`; what is in the way first."""
    shape = made.shape
    name = tr("{shape}, held now", shape=shape) if ours else str(shape)
    if made.held is None:
        return tr(
            "{name}: no hand can hold this. Take a finger off, or bring them closer together.", name=name
        )
    parts = [
        tr("{name}: effort {effort:g} fingers.", name=name, effort=made.effort)
        if made.effort is not None
        else f"{name}."
    ]
    if made.missing:
        parts.append(
            tr("It leaves out the {degree_name}.", degree_name=listed([degree_name(d) for d in made.missing]))
        )
    if made.foreign:
        strings = listed([tr("string {string}", string=string) for string in made.foreign])
        parts.append(tr("Not of the chord: {strings}.", strings=strings))
    if made.names:
        parts.append(tr("Its names: {name}.", name=listed([signs(name) for name in made.names])))
    frets = [fret + capo for fret in shape.frets if fret]
    if capo and frets:
        parts.append(
            tr(
                "On the neck the fingers stand at frets {lowest} to {highest}.",
                lowest=min(frets),
                highest=max(frets),
            )
        )
    return " ".join(parts)


CANNOT_SLIDE = tr(
    "A shape with open strings cannot slide, nor one past the nut or the neck’s end: its open strings would stay behind."
)
_FINGERS = {
    1: tr_c("fingers", "index"),
    2: tr_c("fingers", "middle"),
    3: tr_c("fingers", "ring"),
    4: tr("little finger"),
    THUMB: tr("thumb over the neck"),
}
_WHOLE_FINGERS = {
    1: tr("index finger"),
    2: tr("middle finger"),
    3: tr("ring finger"),
    4: tr("little finger"),
    THUMB: tr("thumb"),
}


def told_shape(shape: Shape, fretting: Fretting | None, fret: Callable[[int], str] = str) -> str:
    """`String 6 fret 3, middle; string 5 fret 2, index; strings 4, 3, 2 open; string 1 fret 3, ring.`

    From the highest string number to string 1; `fret` says a fret as the player counts them.
    """
    count, parts = len(shape.frets), list[tuple[str, list[int]]]()
    for string in range(count, 0, -1):
        place = shape.fret(string)
        finger = fretting.fingers[count - string] if fretting is not None else 0
        said = tr("silent") if place is None else tr("fret {fret}", fret=fret(place)) if place else tr("open")
        said += f", {_FINGERS[finger]}" if place and finger else ""
        if parts and parts[-1][0] == said:
            parts[-1][1].append(string)
        else:
            parts.append((said, [string]))
    words = [f"{_strings(strings)} {said}" for said, strings in parts]
    text = "; ".join(words)
    return text[:1].upper() + text[1:] + "."


def _strings(strings: list[int]) -> str:
    return strings_text(strings)


def silent_lines(silent: tuple[Silent, ...]) -> list[str]:
    """How each silent string is kept so."""
    out = []
    for each in silent:
        name = tr("String {string}", string=each.string)
        out.append(
            {
                "tip": tr(
                    "{name}: the tip of the {finger} touches it.",
                    name=name,
                    finger=_WHOLE_FINGERS.get(each.finger, ""),
                ),
                "thumb": tr("{name}: leave it out, or touch it with the thumb over the neck.", name=name),
                "lean": tr(
                    "{name}: leave it out, or let the {finger} lie flatter, to touch it.",
                    name=name,
                    finger=_FINGERS.get(each.finger, ""),
                ),
                "avoid": tr("{name}: leave it out.", name=name),
            }[each.way]
        )
    return out


def brush_text(silent: tuple[Silent, ...]) -> str:
    """`Pick this shape, do not brush it: string 5 would sound A.`; empty where it can be brushed."""
    notes = [
        tr("string {string} would sound {note}", string=each.string, note=signs(str(each.note)))
        + (tr(", which is not in the chord") if each.foreign else "")
        for each in not_to_brush(silent)
    ]
    return tr("Pick this shape, do not brush it: {notes}.", notes=listed(notes)) if notes else ""


def why_text(why: Reason) -> str:
    """Why a shape, or its fingers, were chosen."""
    values = dict(why.values)
    fingers = values.get("fingers")
    if isinstance(fingers, tuple):
        named = [_FINGERS[int(finger)] for finger in fingers]
        values["fingers"] = listed(named)
        if why.code in _FINGERS_DO:
            return _FINGERS_DO[why.code](len(named), listed(named), signs(str(values["chord"])))
    if "chord" in values:
        values["chord"] = signs(str(values["chord"]))
    return _WHY[why.code].format_map(values)


def known_why_codes() -> set[str]:
    """The codes of `why_text`."""
    return set(_WHY) | set(_FINGERS_DO)


_WHY = {
    "shape-yours": tr("You chose this shape."),
    "fingers-yours": tr("You chose these fingers."),
    "shape-only": tr("No other shape of this chord can be held here."),
    "shape-easiest": tr("The easiest of {count} shapes."),
    "shape-suits": tr(
        "Not the easiest by itself ({other} is, by {less} fingers): it suits the chords around it."
    ),
    "shape-plucked": tr("Not the easiest by itself ({other} is): this one sounds what the pattern plucks."),
}
_FINGERS_DO: dict[str, Callable[[int, str, str], str]] = {
    "fingers-stay": lambda n, fingers, chord: tr_n(
        "Into {chord}, {fingers} stays down.",
        "Into {chord}, {fingers} stay down.",
        n,
        fingers=fingers,
        chord=chord,
    ),
    "fingers-slide": lambda n, fingers, chord: tr_n(
        "Into {chord}, {fingers} slides along the string.",
        "Into {chord}, {fingers} slide along the string.",
        n,
        fingers=fingers,
        chord=chord,
    ),
}
