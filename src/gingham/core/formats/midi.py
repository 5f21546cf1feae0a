"""MIDI out: tempo, meter, sections as markers, chords as texts, words as lyrics, a channel a string.

Positions are straight; tuning and capo stand in a text, so that Gingham itself finds every string again.
"""

from __future__ import annotations

import io
from collections.abc import Iterator
from fractions import Fraction
from itertools import groupby

import msgspec
from mido import Message, MetaMessage, MidiFile, MidiTrack, bpm2tempo

from gingham.core.fitting.performance import Performance
from gingham.core.fitting.result import Event, FittedBar, Result
from gingham.core.formats.notation import sung
from gingham.core.formats.progress import quarters_of
from gingham.core.pieces.lyrics import Syllable

TICKS = 960
"""Ticks a quarter note: every grid of Gingham falls on whole ones."""
SETUP = "gingham"
_NYLON, _STEEL = 24, 25
_SOFT = {"hammer": 58, "pull": 54, "slide": 56}
_LOUD = (80, 100, 120)
_DRUMS = 9

Timed = tuple[int, int, object]


def midi_bytes(performance: Performance, *, channels: bool = True) -> bytes:
    """The performance with its repeats played, as a type 1 file; `channels` gives each string its own."""
    piece = performance.results[0].piece
    file = MidiFile(type=1, ticks_per_beat=TICKS, charset="utf-8")
    lead, strings = _Lead(performance), _Strings(performance, channels)
    lead_track, string_track = MidiTrack(), MidiTrack()
    lead_track.append(MetaMessage("track_name", name=piece.title[:200], time=0))
    text = f"{SETUP} tuning={piece.instrument.tuning_text()};capo={piece.capo};strings={int(channels)}"
    lead_track.append(MetaMessage("text", text=text, time=0))
    string_track.append(MetaMessage("track_name", name=piece.instrument.id, time=0))
    program = _NYLON if piece.instrument.nylon or piece.rules.voice == "nylon" else _STEEL
    for channel in sorted({strings.channel(s) for s in range(1, piece.instrument.strings + 1)}):
        string_track.append(Message("program_change", channel=channel, program=program, time=0))
    end = _ticks(performance.length)
    for track, timed in ((lead_track, lead.messages()), (string_track, strings.messages())):
        _lay(track, list(timed), end)
        file.tracks.append(track)
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def _ticks(at: Fraction) -> int:
    return round(at * 4 * TICKS)


def _lay(track: MidiTrack, timed: list[Timed], end: int) -> None:
    """Messages in order of time with the ticks between them; what ends comes before what begins."""
    now = 0
    for at, _, message in sorted(timed, key=lambda entry: entry[:2]):
        track.append(message.copy(time=at - now))  # type: ignore[attr-defined]
        now = at
    track.append(MetaMessage("end_of_track", time=max(0, end - now)))


class _Played(msgspec.Struct, frozen=True):
    """A bar as it is played: where it begins, which round, whether its turn begins here, how loud."""

    at: Fraction
    result: Result
    bar: FittedBar
    round: int
    begins: bool
    loudness: float


def _bars(performance: Performance) -> Iterator[_Played]:
    """Every bar as it is played."""
    start = Fraction(0)
    for turn, (result, times) in enumerate(zip(performance.results, performance.times, strict=True)):
        for number in range(times):
            loudness = performance.loudness(turn, number)
            for index, (begin, bar) in enumerate(result.timed_bars()):
                yield _Played(start + begin, result, bar, number, index == 0, loudness)
            start += result.length()


class _Lead:
    """Tempo, meter, markers, chords, words."""

    def __init__(self, performance: Performance) -> None:
        self.of = performance
        self.words: list[list[tuple[Syllable, ...]]] = [rounds for _, _, rounds in sung(performance)]

    def messages(self) -> Iterator[Timed]:
        """Everything with its ticks."""
        piece = self.of.results[0].piece
        quarters = float(quarters_of(piece.tempo, piece.meter))
        yield 0, 0, MetaMessage("set_tempo", tempo=min(16_777_215, bpm2tempo(quarters)))
        yield from self._meters()
        turn_index = -1
        for played in _bars(self.of):
            at, result, bar, turn = played.at, played.result, played.bar, played.round
            if played.begins:
                turn_index += turn == 0
                name = result.piece.sections[result.section].name
                yield _ticks(at), 1, MetaMessage("marker", text=name)
            yield from self._chords(at, result, bar, played.begins)
            rounds = self.words[turn_index]
            for syllable in rounds[turn % len(rounds)] if rounds else ():
                if syllable.bar == bar.number:
                    text = syllable.text + ("-" if syllable.joins else "")
                    yield _ticks(at + syllable.at), 3, MetaMessage("lyrics", text=text)

    def _meters(self) -> Iterator[Timed]:
        """A short bar at the start has a meter of its own, so that the next bar line is found."""
        piece = self.of.results[0].piece
        first = self.of.results[0].bars[0]
        meter = piece.meter
        if first.length < meter.bar:
            short = first.length
            bottom = max(short.denominator, 4)
            count = int(short * bottom)
            yield 0, 0, MetaMessage("time_signature", numerator=count, denominator=bottom)
            signature = MetaMessage("time_signature", numerator=meter.count, denominator=meter.unit)
            yield _ticks(short), 0, signature
        else:
            yield 0, 0, MetaMessage("time_signature", numerator=meter.count, denominator=meter.unit)

    def _chords(self, at: Fraction, result: Result, bar: FittedBar, begins: bool) -> Iterator[Timed]:
        for index in bar.spans:
            span = result.spans[index].span
            if span.bar == bar.number or begins:
                where = span.at if span.bar == bar.number else Fraction(0)
                text = span.chord.text if span.chord is not None else "N.C."
                yield _ticks(at + where), 2, MetaMessage("text", text=text)


class _Strings:
    """The notes: each lasts until its string is struck again, or until its chord ends."""

    def __init__(self, performance: Performance, channels: bool) -> None:
        self.of, self.channels = performance, channels

    def channel(self, string: int) -> int:
        """The channel of a string; the one for drums is left out."""
        number = string - 1 if self.channels else 0
        return number if number < _DRUMS else number + 1

    def messages(self) -> Iterator[Timed]:
        """Every note on and off with its ticks."""
        struck: list[tuple[Fraction, Fraction, Event, float]] = []
        for played in _bars(self.of):
            at, result, bar = played.at, played.result, played.bar
            ends = [result.spans[i].span.at for i in bar.spans if result.spans[i].span.bar == bar.number]
            cuts = sorted({*(end for end in ends if end > 0), bar.length})
            for event in bar.events:
                if event.pitch is not None and not event.silent:
                    until = next(cut for cut in (*cuts, bar.length + event.at) if cut > event.at)
                    struck.append((at + event.at, at + until, event, played.loudness))
        struck.sort(key=lambda entry: (entry[2].string, entry[0]))
        for _, group in groupby(struck, key=lambda entry: entry[2].string):
            notes = list(group)
            for index, (begin, until, event, loudness) in enumerate(notes):
                following = notes[index + 1][0] if index + 1 < len(notes) else until
                yield from self._note(event, begin, min(until, following), loudness)

    def _note(self, event: Event, begin: Fraction, until: Fraction, loudness: float) -> Iterator[Timed]:
        assert event.pitch is not None
        channel, note = self.channel(event.string), min(127, event.pitch.midi)
        loud = max(1, round(loudness * _SOFT.get(event.kind, _LOUD[event.accent])))
        if _ticks(until) <= _ticks(begin):
            return  # struck again at once
        yield _ticks(begin), 5, Message("note_on", channel=channel, note=note, velocity=loud)
        yield _ticks(until), 4, Message("note_off", channel=channel, note=note, velocity=0)
