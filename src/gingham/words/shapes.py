"""A shape on the neck in words."""

from __future__ import annotations

from gingham.core.shapes.drawing import Drawn
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
