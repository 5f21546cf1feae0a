"""The colours of paper: the dyes of day cloth on white. Every mark has a letter or digit too."""

from __future__ import annotations

FINGER_INKS = (("p", "#2C4A7C"), ("i", "#A83A2C"), ("m", "#83600F"), ("a", "#1C6B58"), ("c", "#7A4A7E"))

INKS = {
    "ink": "#22201C",
    "quiet": "#655D50",
    "pale": "#A7987F",
    "wash": "#F3EEE4",
    "ribbon": "#CBD5E8",
    "paper": "#FFFFFF",
    **dict(FINGER_INKS),
}
