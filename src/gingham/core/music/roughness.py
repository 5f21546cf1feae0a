"""How rough two notes sound together.

After Sethares (Journal of the Acoustical Society of America 94, 1993): for every pair of the first eight
partials of both notes, amplitudes 0.88^k, the smaller amplitude times exp(-3.5 s d) - exp(-5.75 s d), where
d is the distance in Hz and s = 0.24 / (0.0207 f + 18.96), f the lower frequency. It depends on pitch, not on
names: the same pair is clearer higher up.
"""

from __future__ import annotations

from functools import lru_cache
from itertools import combinations
from math import exp

from gingham.core.music.pitch import hz

_PARTIALS, _FALL = 8, 0.88


@lru_cache(maxsize=4096)
def roughness(midi: int, other: int) -> float:
    """Roughness of two notes sounding together (MIDI numbers); 0 is smooth, above 1.3 is muddy."""
    partials = [(hz(note) * (k + 1), _FALL**k) for note in (midi, other) for k in range(_PARTIALS)]
    total = 0.0
    for (one, loud), (two, louder) in combinations(partials, 2):
        scale = 0.24 / (0.0207 * min(one, two) + 18.96) * abs(one - two)
        total += min(loud, louder) * (exp(-3.5 * scale) - exp(-5.75 * scale))
    return total
