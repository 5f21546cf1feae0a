"""`gingham spell`: the tones of a chord symbol."""

from __future__ import annotations

import argparse

import msgspec

from gingham.arguments import OneLineParser
from gingham.cli.command import Answer, Command, read, table
from gingham.core.music.chords import Chord, parse_chord


class Tone(msgspec.Struct):
    """One tone of a chord."""

    degree: str
    note: str


class SpellAnswer(msgspec.Struct):
    """`gingham spell`."""

    symbol: str
    root: str
    bass: str
    tones: list[Tone]


def _define(parser: OneLineParser) -> None:
    parser.add_argument("symbol")


def _run(options: argparse.Namespace) -> Answer:
    answer = spell_answer(read("SYMBOL", options.symbol, parse_chord))
    return answer, spell_table(answer)


def spell_answer(chord: Chord) -> SpellAnswer:
    """Root, bass and tones of a chord."""
    tones = [Tone(str(degree), str(note)) for degree, note in chord.tones]
    return SpellAnswer(chord.text, str(chord.root), str(chord.bass_note), tones)


def spell_table(answer: SpellAnswer) -> str:
    """Degrees over notes."""
    bass = f", bass {answer.bass}" if answer.bass != answer.root else ""
    rows = [[tone.degree, tone.note] for tone in answer.tones]
    return f"{answer.symbol}: root {answer.root}{bass}\n" + table(rows, ["degree", "note"])


SPELL = Command(_define, _run)
