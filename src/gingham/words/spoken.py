"""Chord symbols as they are spoken."""

from __future__ import annotations

import re

from gingham.language import tr, tr_c

_SHARP, _FLAT = tr_c("spoken sign", "sharp"), tr_c("spoken sign", "flat")
_TAILS = (
    ("maj7", tr("major seven")), ("maj9", tr("major nine")), ("m7b5", tr("minor seven flat five")),
    ("sus4", tr("suspended four")), ("sus2", tr("suspended two")), ("add9", tr("add nine")),
    ("dim", tr("diminished")), ("aug", tr("augmented")), ("m", tr("minor")), ("13", tr("thirteen")),
    ("11", tr("eleven")), ("9", tr("nine")), ("7", tr("seven")), ("6", tr("six")), ("5", tr("five")),
    ("b", _FLAT), ("#", _SHARP),
)  # fmt: skip
_SIGNS = {"#": f" {_SHARP}", "b": f" {_FLAT}", "": ""}
_SYMBOL = re.compile(r"([A-G])([#b]?)([^/]*)(?:/([A-G])([#b]?))?")


def spoken_chord(symbol: str) -> str:
    """`D/F#` is `D over F sharp`, `Am7` is `A minor seven`; what cannot be read is said as it stands."""
    match = _SYMBOL.fullmatch(symbol)
    if match is None:
        return symbol
    root, sign, tail, bass, bass_sign = match.groups()
    words = [f"{root}{_SIGNS[sign]}", *_tail(tail)]
    if bass:
        below = bass + _SIGNS[bass_sign or ""]
        words.append(tr("over {bass}", bass=below))
    return " ".join(words)


def _tail(text: str) -> list[str]:
    out: list[str] = []
    while text:
        known = next(((sign, words) for sign, words in _TAILS if text.startswith(sign)), None)
        if known is None:
            out.append(text[0])
            text = text[1:]
        else:
            out.append(known[1])
            text = text.removeprefix(known[0])
    return out
