"""MIDI in: notes on the nearest grid, strings from channels or from the chords, sections from markers."""

from __future__ import annotations

import io
import re
from collections import Counter
from fractions import Fraction
from typing import Any

import msgspec
from mido import MidiFile
from mido.midifiles.meta import KeySignatureError

from gingham.core.errors import FileError, InputError, MeterError
from gingham.core.finding.part import SILENCE, Named, Part, PartBar, PartSection, Sounded, Sung
from gingham.core.formats.midi import SETUP
from gingham.core.formats.progress import MAX_BARS, MAX_NOTES, Tick, go_on, instrument_for, tempo_in_beats
from gingham.core.instruments.instrument import CATALOGUE, Instrument
from gingham.core.music.chords import parse_chord
from gingham.core.music.meter import Meter, meter
from gingham.core.numbers import is_whole
from gingham.core.reasons import Reason

_MOST_MB = 0.4  # a long piece has some ten kilobytes
_DRUMS = 9
_GRIDS = (12, 16, 24, 48)  # places of a whole note: as coarse as the notes allow
_OFF_GRID = Fraction(1, 200)
_MUTED = 0.99
_CHORD = re.compile(r"[A-G][#b]?[^\s]{0,16}")


class _Heard(msgspec.Struct):
    """What the tracks hold, times in whole notes from the start."""

    notes: list[tuple[Fraction, int, int]] = msgspec.field(default_factory=list)
    markers: list[tuple[Fraction, str]] = msgspec.field(default_factory=list)
    chords: list[tuple[Fraction, str]] = msgspec.field(default_factory=list)
    words: list[tuple[Fraction, str]] = msgspec.field(default_factory=list)
    meters: list[tuple[Fraction, int, int]] = msgspec.field(default_factory=list)
    tempo_us: int = 0
    title: str = ""
    setup: dict[str, str] = msgspec.field(default_factory=dict)
    guesses: list[Reason] = msgspec.field(default_factory=list)


def part_from_midi(data: bytes, name: str = "", tick: Tick | None = None) -> Part:
    """The part that a MIDI file holds.

    Raises
    ------
    FileError
        Damaged, cut short, too large, without notes, or in a meter that cannot be counted.
    """
    if len(data) > _MOST_MB * 1_000_000:
        raise FileError("file-large", path=name, most=_MOST_MB)
    try:
        file = MidiFile(file=io.BytesIO(data), charset="latin-1", clip=True)
    except (OSError, EOFError, ValueError, IndexError, KeyError, TypeError, KeySignatureError) as error:
        why = str(error) or "it ends too early"
        raise FileError("midi-broken", path=name, why=why) from error
    if file.ticks_per_beat <= 0 or file.type == 2:
        raise FileError("midi-broken", path=name, why="it does not count in beats")
    heard = _listen(file, name, tick)
    if not heard.notes:
        raise FileError("part-empty", path=name)
    return _MidiBuilder(heard, name).part(tick)


def _listen(file: MidiFile, name: str, tick: Tick | None) -> _Heard:
    out = _Heard()
    for number, track in enumerate(file.tracks):
        go_on(tick, number / len(file.tracks) / 2)
        ticks = 0
        for message in track:
            ticks += message.time
            at = Fraction(ticks, file.ticks_per_beat * 4)
            if message.is_meta:
                _meta(out, message, at)
            elif message.type == "note_on" and message.velocity and message.channel != _DRUMS:
                out.notes.append((at, message.note, message.channel))
                if len(out.notes) > MAX_NOTES:
                    raise FileError("part-notes", path=name, given=len(out.notes), most=MAX_NOTES)
    return out


def _meta(out: _Heard, message: Any, at: Fraction) -> None:
    if message.type == "set_tempo":
        out.tempo_us = out.tempo_us or message.tempo
    elif message.type == "time_signature":
        out.meters.append((at, message.numerator, message.denominator))
    elif message.type in ("marker", "cue_marker"):
        out.markers.append((at, _text(message.text)[:80]))
    elif message.type == "lyrics":
        out.words.append((at, _text(message.text)[:60].replace("|", "/")))
    elif message.type == "track_name" and at == 0 and not out.title:
        out.title = _text(message.name).strip()[:200]
    elif message.type == "text":
        text = _text(message.text).strip()
        if text.startswith(f"{SETUP} "):
            pairs = (pair.partition("=") for pair in text[len(SETUP) + 1 :].split(";"))
            out.setup = {key.strip(): value.strip() for key, _, value in pairs}
        elif text == SILENCE or _CHORD.fullmatch(text):
            out.chords.append((at, text))


def _text(raw: str) -> str:
    """Texts are bytes of no known kind: UTF-8 if they can be that, else as they stand."""
    try:
        return raw.encode("latin-1").decode("utf-8")
    except (UnicodeDecodeError, UnicodeEncodeError):
        return raw


class _MidiBuilder:
    """Lays what was heard into bars."""

    def __init__(self, heard: _Heard, name: str) -> None:
        self.heard, self.name = heard, name
        self.of = self._meter()
        self.pickup = self._pickup()
        self.on, self.capo = self._instrument()

    def part(self, tick: Tick | None) -> Part:
        """The whole part."""
        go_on(tick, 0.5)
        heard, meter = self.heard, self.of
        end = max(at for at, _, _ in heard.notes)
        count = int((end - self.pickup) / meter.bar) + 1 if end >= self.pickup else 0
        if count > MAX_BARS:
            raise FileError("part-long", path=self.name, most=MAX_BARS)
        starts = [self.pickup + meter.bar * n for n in range(count)]
        lengths = [meter.bar] * count
        if self.pickup:
            starts, lengths = [Fraction(0), *starts], [self.pickup, *lengths]
        grid = self._grid()
        bars = [_MidiBar(length) for length in lengths]
        for at, midi, channel in sorted(heard.notes):
            index, inside = self._place(round(at * grid) / Fraction(grid), starts)
            self._note(bars[min(index, len(bars) - 1)], inside, midi, channel)
        for at, text in heard.chords:
            index, inside = self._place(at, starts)
            if index < len(bars) and _named(text):
                bars[index].chords[inside] = text
        for at, text in heard.words:
            index, inside = self._place(at, starts)
            if index < len(bars) and text.strip("- "):
                bars[index].words.append(Sung(inside, text.strip("- "), text.rstrip().endswith("-")))
        tempo = tempo_in_beats(60_000_000 / heard.tempo_us if heard.tempo_us else 0.0, meter)
        sections = self._sections([bar.made() for bar in bars], starts)
        return Part(heard.title, self.on, self.capo, meter, tempo, tuple(sections), tuple(heard.guesses))

    def _place(self, at: Fraction, starts: list[Fraction]) -> tuple[int, Fraction]:
        if self.pickup and at < self.pickup:
            return 0, at
        index = int((at - self.pickup) / self.of.bar)
        return index + bool(self.pickup), at - self.pickup - index * self.of.bar

    def _meter(self) -> Meter:
        found = [(c, u) for at, c, u in self.heard.meters]
        wanted = Counter(found[1:] or found).most_common(1)
        count, unit = wanted[0][0] if wanted else (4, 4)
        if not found:
            self.heard.guesses.append(Reason.of("read-meter", meter="4/4"))
        try:
            return meter(count, unit)
        except MeterError as error:
            raise FileError("part-meter", path=self.name, meter=f"{count}/{unit}") from error

    def _pickup(self) -> Fraction:
        """The length of a first bar that is shorter than the others."""
        first = next(((c, u) for at, c, u in self.heard.meters if at == 0), None)
        later = min((at for at, _, _ in self.heard.meters if at > 0), default=None)
        if first is None or later is None:
            return Fraction(0)
        short = Fraction(*first)
        return short if short == later < self.of.bar else Fraction(0)

    def _instrument(self) -> tuple[Instrument, int]:
        setup = self.heard.setup
        tuning = setup.get("tuning", "").split()
        given = setup.get("capo", "")
        capo = int(given) if is_whole(given) else 0
        lowest = min(midi for _, midi, _ in self.heard.notes)
        instrument, guessed = instrument_for(tuning, 0, self.name)
        if guessed and lowest >= CATALOGUE["ukulele"].open_midi(3):
            instrument = CATALOGUE["ukulele"]
        if guessed:
            self.heard.guesses.append(Reason.of("read-tuning", tuning=instrument.tuning_text()))
        return instrument, capo if capo <= instrument.frets - 5 else 0

    def _grid(self) -> int:
        """Places of a whole note on which the notes lie; what lies beside them is moved, and said."""
        ats = {at for at, _, _ in self.heard.notes}
        for grid in _GRIDS:
            if all((at * grid).denominator == 1 for at in ats):
                return grid
        for grid in _GRIDS:
            off = sum(abs(at - round(at * grid) / Fraction(grid)) > _OFF_GRID for at in ats)
            if off <= (1 - _MUTED) * len(ats):
                break
        self.heard.guesses.append(Reason.of("read-grid", grid=grid))
        return grid

    def _note(self, bar: _MidiBar, at: Fraction, midi: int, channel: int) -> None:
        string = None
        if self.heard.setup.get("strings") == "1":
            string = channel + 1 if channel < _DRUMS else channel
        fret = None
        if string is not None and string <= self.on.strings:
            fret = midi - self.on.open_midi(string) - self.capo
            if not 0 <= fret <= self.on.frets - self.capo:
                string = fret = None
        else:
            string = None
        bar.notes.append(Sounded(at, midi, string, fret))

    def _sections(self, bars: list[PartBar], starts: list[Fraction]) -> list[PartSection]:
        marks = {self._place(at, starts)[0]: text for at, text in self.heard.markers}
        out: list[PartSection] = []
        begin, name = 0, ""
        for index in range(len(bars) + 1):
            if index == len(bars) or (index in marks and index > 0):
                if index > begin:
                    out.append(PartSection(marks.get(begin, name), tuple(bars[begin:index])))
                begin = index
        return _rounds(out)


def _rounds(sections: list[PartSection]) -> list[PartSection]:
    """Equal sections in a row under one name are one, played several times."""
    out: list[PartSection] = []
    for section in sections:
        last = out[-1] if out else None
        same = last is not None and last.name == section.name and last.name
        if last is not None and same and _music(last) == _music(section):
            verse = last.times + 1
            bars = tuple(
                PartBar(
                    one.length,
                    one.notes,
                    one.chords,
                    (*one.words, *(Sung(s.at, s.text, s.joins, verse) for s in two.words)),
                )
                for one, two in zip(last.bars, section.bars, strict=True)
            )
            if {s.text for b in section.bars for s in b.words} <= {
                s.text for b in last.bars for s in b.words
            }:
                bars = last.bars
            out[-1] = PartSection(last.name, bars, verse)
        else:
            out.append(section)
    return out


def _music(section: PartSection) -> list[tuple[object, ...]]:
    return [(bar.length, bar.notes, bar.chords) for bar in section.bars]


class _MidiBar(msgspec.Struct):
    length: Fraction
    notes: list[Sounded] = msgspec.field(default_factory=list)
    chords: dict[Fraction, str] = msgspec.field(default_factory=dict)
    words: list[Sung] = msgspec.field(default_factory=list)

    def made(self) -> PartBar:
        """The bar with everything in order of time."""
        chords = tuple(Named(at, text) for at, text in sorted(self.chords.items()))
        notes = tuple(sorted(self.notes, key=lambda n: (n.at, -(n.string or 0), n.midi or 0)))
        return PartBar(self.length, notes, chords, tuple(self.words))


def _named(text: str) -> bool:
    try:
        return text == SILENCE or bool(parse_chord(text))
    except InputError:
        return False
