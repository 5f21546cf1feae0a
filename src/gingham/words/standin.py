"""Stand-ins for hard chords, and other names of a shape, in words."""

from __future__ import annotations

from gingham.core.bench.relatives import Relative
from gingham.core.bench.substitutes import Substitute
from gingham.core.shapes.fingers import print_fretting
from gingham.language import tr, tr_c, tr_n
from gingham.words.names import degree_name, listed, signs

_WHY = {
    "changes": tr("the changes around it get harder"),
    "outside": tr("its added tone lies outside the key"),
}


_KINDS = {"smaller": tr_c("kinds", "smaller"), "thumb-over": tr("with the thumb over the neck")}


def relative_text(each: Relative) -> str:
    """`Fmaj7 xx3210: string 1 open, adds the major seventh`; `F xx3211: smaller`."""
    if each.kind == "colour":
        parts = [
            tr("string {string} fret {fret}", string=each.string, fret=each.fret)
            if each.fret
            else tr("string {string} open", string=each.string)
        ]
    else:
        parts = [_KINDS[each.kind]]
    if each.lost:
        parts.append(tr("loses the {degree_name}", degree_name=listed([degree_name(d) for d in each.lost])))
    if each.added:
        parts.append(tr("adds the {degree_name}", degree_name=listed([degree_name(d) for d in each.added])))
    fingers = print_fretting(each.fretting.fingers)
    return tr(
        "{text} {shape}, fingers {fingers}: {parts}",
        text=signs(each.chord.text),
        shape=each.shape,
        fingers=fingers,
        parts=", ".join(parts),
    )


def standin_text(each: Substitute) -> str:
    """`Fmaj7 xx3210: saves 0.6 fingers, adds the major seventh, thumb 4 then 3. Suits its neighbours.`"""
    one = 1 if each.saved == 1 else 2
    parts = [tr_n("saves {saved:g} finger", "saves {saved:g} fingers", one, saved=each.saved)]
    if each.lost:
        parts.append(tr("loses the {degree_name}", degree_name=listed([degree_name(d) for d in each.lost])))
    if each.added:
        parts.append(tr("adds the {degree_name}", degree_name=listed([degree_name(d) for d in each.added])))
    parts.append(tr("thumb ") + tr(" then ").join(map(str, each.thumb)))
    if not each.string_one:
        parts.append(tr("string 1 falls silent"))
    verdict = tr("suits its neighbours") if each.suits else tr("does not suit: {why}", why=_WHY[each.why])
    return f"{signs(each.chord.text)} {each.shape}: {', '.join(parts)}; {verdict}"
