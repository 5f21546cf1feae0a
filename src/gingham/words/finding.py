"""Finding an action by the words that somebody uses for it."""

from __future__ import annotations

from collections.abc import Mapping

SAME = {
    "transpose": "another key", "key": "capo and key", "retune": "tuning", "tuner": "tune", "dark": "night",
    "theme": "night", "zoom": "larger", "bigger": "larger", "font": "larger", "metronome": "click",
    "repeat": "loop", "lyrics": "words", "pdf": "sheet", "midi": "part", "import": "read", "left": "mirrored",
    "lefty": "mirrored", "bpm": "tempo", "speed": "tempo", "slow": "slower", "fast": "faster",
    "drill": "practise", "exercise": "practise", "strum": "brush", "mute": "silent", "mode": "kind",
    "settings": "set-up", "preferences": "set-up", "options": "set-up", "arpeggio": "pattern", "chord": "chord",
    "substitute": "easier", "simplify": "easier", "fill": "own", "volume": "sound", "error": "log",
    "buzz": "rings", "buzzing": "rings", "mic": "record", "microphone": "record", "latency": "record",
}  # fmt: skip
"""Words that players bring along, and what Gingham calls it."""


def find(query: str, known: Mapping[str, str]) -> list[str]:
    """The ids of the actions whose words hold every word of the query, best first; else the nearest ones.

    `known` gives for each id all its words. A word at the beginning of a text counts most.
    """
    words = query.lower().split()
    if not words:
        return list(known)
    hits = _holding(words, known)
    if not hits:
        hits = _holding([SAME.get(word, word) for word in words], known)
    if not hits:
        hits = _holding([_nearest(word, known) for word in words], known)
    return hits


def _holding(words: list[str], known: Mapping[str, str]) -> list[str]:
    found = [name for name, text in known.items() if all(word in text.lower() for word in words)]
    return sorted(found, key=lambda name: _rank(words, known[name].lower()))


def _rank(words: list[str], text: str) -> tuple[bool, int]:
    """Texts that begin with what was typed come first, then those in which it stands early."""
    return (not text.startswith(words[0]), text.find(words[0]))


def _nearest(word: str, known: Mapping[str, str]) -> str:
    vocabulary = {each.strip(",.;:()…").lower() for text in known.values() for each in text.split()}
    from difflib import get_close_matches

    near = get_close_matches(word, sorted(vocabulary), 1, 0.7)
    return near[0] if near else word
