"""Stand-ins for hard chords, and other names of a shape, in words."""

from __future__ import annotations

from gingham.core.bench.relatives import Relative
from gingham.core.bench.substitutes import Substitute
from gingham.core.shapes.fingers import print_fretting
from gingham.words.names import degree_name, listed, signs

_WHY = {"changes": "the changes around it get harder", "outside": "its added tone lies outside the key"}


_KINDS = {"smaller": "smaller", "thumb-over": "with the thumb over the neck"}


def relative_text(each: Relative) -> str:
    """`Fmaj7 xx3210: string 1 open, adds the major seventh`; `F xx3211: smaller`."""
    if each.kind == "colour":
        parts = [f"string {each.string} {f'fret {each.fret}' if each.fret else 'open'}"]
    else:
        parts = [_KINDS[each.kind]]
    if each.lost:
        parts.append(f"loses the {listed([degree_name(d) for d in each.lost])}")
    if each.added:
        parts.append(f"adds the {listed([degree_name(d) for d in each.added])}")
    fingers = print_fretting(each.fretting.fingers)
    return f"{signs(each.chord.text)} {each.shape}, fingers {fingers}: {', '.join(parts)}"


def standin_text(each: Substitute) -> str:
    """`Fmaj7 xx3210: saves 0.6 fingers, adds the major seventh, thumb 4 then 3. Suits its neighbours.`"""
    parts = [f"saves {each.saved:g} {'finger' if each.saved == 1 else 'fingers'}"]
    if each.lost:
        parts.append(f"loses the {listed([degree_name(d) for d in each.lost])}")
    if each.added:
        parts.append(f"adds the {listed([degree_name(d) for d in each.added])}")
    parts.append("thumb " + " then ".join(map(str, each.thumb)))
    if not each.string_one:
        parts.append("string 1 falls silent")
    verdict = "suits its neighbours" if each.suits else f"does not suit: {_WHY[each.why]}"
    return f"{signs(each.chord.text)} {each.shape}: {', '.join(parts)}; {verdict}"
