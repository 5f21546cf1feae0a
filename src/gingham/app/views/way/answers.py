"""The answers to the questions as a way has them, and back: no widgets."""

from __future__ import annotations

from typing import Any

from gingham.core.pieces.rules import ThumbPlan, parse_fingers, parse_first, parse_thumb
from gingham.core.pieces.way import Way
from gingham.core.values import replace
from gingham.words.way import NAMES_GROUP

_OF_THE_WAY = ("meter", "times", "ending", "order", "joins", "opening", "sing")


def answer_of(way: Way, group: str, field: str) -> str:
    """What a way answers to the question about `field` in a group of `words.way`."""
    if group == NAMES_GROUP or field in _OF_THE_WAY:
        return str(getattr(way, field))
    thumb = way.rules.thumb
    if field == "each_bar":
        return "on" if thumb.each_bar else ""
    if field == "walk":
        return "on" if thumb.walk else ""
    if field == "thumb":
        return str(replace(thumb, each_bar=False, walk=False))
    return str(getattr(way.rules, field))


def with_answer(way: Way, group: str, field: str, answer: str) -> Way:
    """The way with another answer."""
    if group == NAMES_GROUP or field in _OF_THE_WAY:
        return replace(way, times=int(answer)) if field == "times" else _text(way, field, answer)
    value = _rule(way.rules.thumb, field, answer)
    name = "thumb" if field in ("each_bar", "walk") else field
    return replace(way, rules=replace(way.rules, **{name: value}))


def _text(way: Way, field: str, answer: str) -> Way:
    return replace(way, **{field: answer})  # type: ignore[arg-type]  # all of them are texts


def _rule(thumb: ThumbPlan, field: str, answer: str) -> Any:
    if field == "thumb":
        return replace(parse_thumb(answer), walk=thumb.walk, each_bar=thumb.each_bar)
    if field == "each_bar":
        return replace(thumb, each_bar=bool(answer))
    if field == "walk":
        return replace(thumb, walk=bool(answer))
    if field == "fingers":
        return parse_fingers(answer)
    return parse_first(answer) if field == "first" else answer
