"""Chord symbols as they are spoken."""

from __future__ import annotations

import re

_TAILS = (
    ("maj7", "major seven"), ("maj9", "major nine"), ("m7b5", "minor seven flat five"), ("sus4", "suspended four"),
    ("sus2", "suspended two"), ("add9", "add nine"), ("dim", "diminished"), ("aug", "augmented"), ("m", "minor"),
    ("13", "thirteen"), ("11", "eleven"), ("9", "nine"), ("7", "seven"), ("6", "six"), ("5", "five"),
    ("b", "flat"), ("#", "sharp"),
)  # fmt: skip
_SIGNS = {"#": " sharp", "b": " flat", "": ""}
_SYMBOL = re.compile(r"([A-G])([#b]?)([^/]*)(?:/([A-G])([#b]?))?")


def spoken_chord(symbol: str) -> str:
    """`D/F#` is `D over F sharp`, `Am7` is `A minor seven`; what cannot be read is said as it stands."""
    match = _SYMBOL.fullmatch(symbol)
    if match is None:
        return symbol
    root, sign, tail, bass, bass_sign = match.groups()
    words = [f"{root}{_SIGNS[sign]}", *_tail(tail)]
    if bass:
        words.append(f"over {bass}{_SIGNS[bass_sign or '']}")
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
