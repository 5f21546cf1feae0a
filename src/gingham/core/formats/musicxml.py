"""MusicXML 4.0 out: one tablature staff with tuning and capo, strings, frets, plucking letters, chord symbols
with frames, repeats and words. Pitches and chord symbols are those that sound.
"""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from math import lcm
from xml.etree import ElementTree as ET

from gingham.core.fitting.performance import Performance
from gingham.core.fitting.result import Assignment, Event, FittedBar, Result
from gingham.core.formats.harmony import kind_of, suffix_of
from gingham.core.formats.notation import Chunk, chunks, sung
from gingham.core.music.key import Key
from gingham.core.music.pitch import LETTERS, Note, Pitch
from gingham.core.pieces.lyrics import Syllable
from gingham.core.pieces.piece import Piece

_DOCTYPE = (
    '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" '
    '"http://www.musicxml.org/dtds/partwise.dtd">'
)
_SIGNS = {"hammer": ("hammer-on", "H"), "pull": ("pull-off", "P")}
FADE = "fade out"
"""What stands under the measures that are played softer and softer."""
_ARPEGGIO = {"brush-down": "up", "brush-up": "down"}  # the direction is that of the pitches
Tick = Callable[[float], bool]


def musicxml(performance: Performance, tick: Tick | None = None) -> bytes:
    """The performance as an uncompressed MusicXML file; `tick` is told the share that is done."""
    return _Writer(performance, tick).written()


def sub(parent: ET.Element, name: str, text: object = None, /, **attributes: object) -> ET.Element:
    """A child element with text and attributes (`_` for a hyphen)."""
    child = ET.SubElement(parent, name, {k.replace("_", "-"): str(v) for k, v in attributes.items()})
    if text is not None:
        child.text = str(text)
    return child


class _Writer:
    """Holds what every measure needs: divisions, the piece, the running number."""

    def __init__(self, performance: Performance, tick: Tick | None) -> None:
        self.of, self.tick = performance, tick
        self.piece: Piece = performance.results[0].piece
        self.turns = sung(performance)
        self.divisions = self._divisions()
        self.number = 0

    def _divisions(self) -> int:
        """Divisions of a quarter note that hold every onset, syllable and bar."""
        bottoms = {4}
        bottoms |= {s.at.denominator for _, _, rounds in self.turns for verse in rounds for s in verse}
        for result in self.of.results:
            seen: set[int] = set()
            for bar in result.bars:
                if id(bar.events) not in seen:
                    seen.add(id(bar.events))
                    bottoms |= {e.at.denominator for e in bar.events}
                bottoms.add(bar.length.denominator)
        return lcm(*bottoms) // 4

    def in_divisions(self, length: Fraction) -> int:
        """A length (of a whole note) in divisions."""
        return int(length * 4 * self.divisions)

    def written(self) -> bytes:
        """The whole file."""
        root = ET.Element("score-partwise", {"version": "4.0"})
        sub(sub(root, "work"), "work-title", self.piece.title)
        identification = sub(root, "identification")
        sub(sub(identification, "encoding"), "software", "Gingham")
        if self.piece.notes:
            _fields(identification, {"notes": self.piece.notes})
        listed = sub(sub(root, "part-list"), "score-part", id="P1")
        sub(listed, "part-name", self.piece.instrument.id.split("-")[0].capitalize())
        part = sub(root, "part", id="P1")
        total, done = max(1, sum(len(r.bars) for r, _, _ in self.turns)), 0
        for index, (result, times, rounds) in enumerate(self.turns):
            before = len(part)
            self._section(part, result, times, rounds)
            if self.of.fading and index == len(self.turns) - 1:
                _fade(part[before], part[-1])
            done += len(result.bars)
            if self.tick is not None and not self.tick(done / total):
                break
        ET.indent(root)
        body = ET.tostring(root, encoding="unicode")
        return f'<?xml version="1.0" encoding="UTF-8"?>\n{_DOCTYPE}\n{body}\n'.encode()

    def _section(
        self, part: ET.Element, result: Result, times: int, rounds: list[tuple[Syllable, ...]]
    ) -> None:
        name = result.piece.sections[result.section].name
        last = len(result.bars) - 1
        for index, bar in enumerate(result.bars):
            pickup = bar.number == 0
            measure = sub(part, "measure", number=0 if pickup and not self.number else self.number + 1)
            if pickup:
                measure.set("implicit", "yes")
            else:
                self.number += 1
            first = index == 0
            if times > 1 and first:
                _barline(measure, "left", "forward", times)
            if len(part) == 1:
                self._attributes(measure)
            if first:
                self._mark(measure, name, len(part) == 1)
            self._bar(measure, result, bar, rounds)
            if index == last:
                final = result is self.of.results[-1]
                if times > 1:
                    _barline(measure, "right", "backward", times)
                elif final:
                    _barline(measure, "right", "", 1)

    def _attributes(self, measure: ET.Element) -> None:
        piece = self.piece
        attributes = sub(measure, "attributes")
        sub(attributes, "divisions", self.divisions)
        key = piece.shape_key().up(piece.capo)
        signature = sub(attributes, "key")
        sub(signature, "fifths", _fifths(key))
        sub(signature, "mode", "minor" if key.minor else "major")
        time = sub(attributes, "time")
        sub(time, "beats", piece.meter.count)
        sub(time, "beat-type", piece.meter.unit)
        clef = sub(attributes, "clef")
        sub(clef, "sign", "TAB")
        sub(clef, "line", 5)
        details = sub(attributes, "staff-details")
        sub(details, "staff-lines", piece.instrument.strings)
        for line, pitch in enumerate(piece.instrument.tuning, 1):
            tuning = sub(details, "staff-tuning", line=line)
            sub(tuning, "tuning-step", LETTERS[pitch.note.step])
            if pitch.note.alter:
                sub(tuning, "tuning-alter", pitch.note.alter)
            sub(tuning, "tuning-octave", pitch.octave)
        if piece.capo:
            sub(details, "capo", piece.capo)

    def _mark(self, measure: ET.Element, name: str, begins: bool) -> None:
        """The section's name, and at the start the tempo."""
        sub(sub(sub(measure, "direction", placement="above"), "direction-type"), "rehearsal", name)
        if not begins:
            return
        direction = sub(measure, "direction", placement="above")
        metronome = sub(sub(direction, "direction-type"), "metronome")
        beat = self.piece.meter.tempo_beat
        dotted = beat.numerator == 3
        whole = beat * Fraction(2, 3) if dotted else beat
        names = {Fraction(1, 2): "half", Fraction(1, 4): "quarter", Fraction(1, 8): "eighth"}
        sub(metronome, "beat-unit", names.get(whole, "quarter"))
        if dotted:
            sub(metronome, "beat-unit-dot")
        sub(metronome, "per-minute", self.piece.tempo)
        quarters = self.piece.tempo * beat * 4
        sub(direction, "sound", tempo=f"{float(quarters):g}")

    def _bar(
        self, measure: ET.Element, result: Result, bar: FittedBar, rounds: list[tuple[Syllable, ...]]
    ) -> None:
        words = [[s for s in verse if s.bar == bar.number] for verse in rounds]
        pieces = list(chunks(bar, tuple(s for verse in words for s in verse)))
        entries = {result.spans[i].span.at: i for i in bar.spans if result.spans[i].span.bar == bar.number}
        pending = sorted(entries)
        for index, chunk in enumerate(pieces):
            end = chunk.at + chunk.value.length
            while pending and pending[0] < end:
                at = pending.pop(0)
                self._harmony(measure, result, entries[at], at - chunk.at)
            here = [(number, s) for number, verse in enumerate(words, 1) for s in verse if s.at == chunk.at]
            self._chunk(measure, chunk, pieces[index - 1 : index] if index else [], here)

    def _harmony(self, measure: ET.Element, result: Result, index: int, offset: Fraction) -> None:
        fitted = result.spans[index]
        harmony = sub(measure, "harmony", placement="above", print_frame="yes" if fitted.assignment else "no")
        chord, assignment = fitted.span.chord, fitted.assignment
        if chord is None:
            sub(sub(harmony, "root"), "root-step", "C")
            sub(harmony, "kind", "none", text="N.C.")
        else:
            sounds = assignment.sounding if assignment is not None else chord
            _note(sub(harmony, "root"), "root", sounds.root)
            kind, changes = kind_of(sounds)
            sub(harmony, "kind", kind, text=suffix_of(sounds))
            if sounds.bass is not None:
                _note(sub(harmony, "bass"), "bass", sounds.bass)
            for number, alter, how in changes:
                degree = sub(harmony, "degree", print_object="no")
                sub(degree, "degree-value", number)
                sub(degree, "degree-alter", alter)
                sub(degree, "degree-type", how)
            if assignment is not None:
                _frame(harmony, assignment)
        if offset:
            sub(harmony, "offset", self.in_divisions(offset))

    def _chunk(
        self, measure: ET.Element, chunk: Chunk, before: list[Chunk], words: list[tuple[int, Syllable]]
    ) -> None:
        if not chunk.events:
            note = sub(measure, "note")
            sub(note, "rest")
            self._length(note, chunk)
            _lyrics(note, words)
        for index, event in enumerate(chunk.events):
            note = sub(measure, "note")
            if index:
                sub(note, "chord")
            _pitch(note, event.pitch or self._open(event.string))
            self._length(note, chunk)
            if event.kind == "chuck":
                sub(note, "notehead", "x")
            self._notations(note, chunk, event, before)
            if not index:
                _lyrics(note, words)

    def _open(self, string: int) -> Pitch:
        return self.piece.instrument.tuning[self.piece.instrument.strings - string]

    def _length(self, note: ET.Element, chunk: Chunk) -> None:
        value = chunk.value
        sub(note, "duration", self.in_divisions(value.length))
        if chunk.events:
            for kind, is_so in (("stop", chunk.tied), ("start", chunk.goes_on)):
                if is_so:
                    sub(note, "tie", type=kind)
        sub(note, "voice", 1)
        sub(note, "type", value.type)
        for _ in range(value.dots):
            sub(note, "dot")
        if value.tuplet is not None:
            ratio = sub(note, "time-modification")
            sub(ratio, "actual-notes", value.tuplet[0])
            sub(ratio, "normal-notes", value.tuplet[1])

    def _notations(self, note: ET.Element, chunk: Chunk, event: Event, before: list[Chunk]) -> None:
        notations = sub(note, "notations")
        for kind, is_so in (("stop", chunk.tied), ("start", chunk.goes_on)):
            if is_so:
                sub(notations, "tied", type=kind)
        if event.kind == "slide" and not chunk.tied:
            sub(notations, "slide", type="stop", line_type="solid")
        technical = sub(notations, "technical")
        if event.kind in _SIGNS and not chunk.tied:
            name, sign = _SIGNS[event.kind]
            sub(technical, name, sign, type="stop")
        if event.pick and not chunk.tied:
            sub(technical, "down-bow" if event.pick == "down" else "up-bow")
        elif event.finger and event.kind != "chuck" and not chunk.tied:
            sub(technical, "pluck", event.finger)
        sub(technical, "string", event.string)
        if event.fret is not None and event.kind != "chuck":
            sub(technical, "fret", event.fret)
        if event.accent and not chunk.tied:
            sub(sub(notations, "articulations"), "strong-accent" if event.accent > 1 else "accent")
        if event.kind in _ARPEGGIO and not chunk.tied:
            sub(notations, "arpeggiate", direction=_ARPEGGIO[event.kind])


def _fifths(key: Key) -> int:
    """Sharps of a key signature, flats counted below zero."""
    steps = "FCGDAEB".index(LETTERS[key.tonic.step]) - 1 + 7 * key.tonic.alter
    return steps - 3 if key.minor else steps


def _fields(parent: ET.Element, values: dict[str, str]) -> None:
    listed = sub(parent, "miscellaneous")
    for name, text in values.items():
        sub(listed, "miscellaneous-field", text, name=name)


def _fade(first: ET.Element, last: ET.Element) -> None:
    """Words and a wedge that closes over the measures that are repeated into silence."""
    words = ET.Element("direction", {"placement": "below"})
    sub(sub(words, "direction-type"), "words", FADE)
    wedge = ET.Element("direction", {"placement": "below"})
    sub(sub(wedge, "direction-type"), "wedge", type="diminuendo", number=1)
    at = next(i for i, each in enumerate(first) if each.tag in ("harmony", "note", "backup", "forward"))
    first.insert(at, words)
    first.insert(at + 1, wedge)
    end = ET.Element("direction", {"placement": "below"})
    sub(sub(end, "direction-type"), "wedge", type="stop", number=1)
    tail = [i for i, each in enumerate(last) if each.tag == "note"]
    last.insert(tail[-1] + 1, end)


def _barline(measure: ET.Element, where: str, direction: str, times: int) -> None:
    barline = sub(measure, "barline", location=where)
    sub(barline, "bar-style", "heavy-light" if where == "left" else "light-heavy")
    if direction:
        repeat = sub(barline, "repeat", direction=direction)
        if direction == "backward":
            repeat.set("times", str(times))


def _note(parent: ET.Element, name: str, note: Note) -> None:
    sub(parent, f"{name}-step", LETTERS[note.step])
    if note.alter:
        sub(parent, f"{name}-alter", note.alter)


def _pitch(note: ET.Element, pitch: Pitch) -> None:
    element = sub(note, "pitch")
    sub(element, "step", LETTERS[pitch.note.step])
    if pitch.note.alter:
        sub(element, "alter", pitch.note.alter)
    sub(element, "octave", pitch.octave)


def _frame(harmony: ET.Element, assignment: Assignment) -> None:
    """The shape as a chord diagram with fretting fingers."""
    frets = [fret for fret in assignment.shape.frets if fret]
    first = min(frets) if frets and max(frets) > 5 else 1
    frame = sub(harmony, "frame")
    sub(frame, "frame-strings", len(assignment.shape.frets))
    sub(frame, "frame-frets", max(4, max(frets, default=0) - first + 1))
    if first > 1:
        sub(frame, "first-fret", first)
    fingers = assignment.fretting.fingers if assignment.fretting is not None else ()
    for index, fret in enumerate(assignment.shape.frets):
        if fret is not None:
            place = sub(frame, "frame-note")
            sub(place, "string", len(assignment.shape.frets) - index)
            sub(place, "fret", fret)
            if fret and index < len(fingers) and fingers[index] > 0:
                sub(place, "fingering", fingers[index])


def _lyrics(note: ET.Element, words: list[tuple[int, Syllable]]) -> None:
    for number, syllable in words:
        lyric = sub(note, "lyric", number=number)
        kinds = {(True, True): "begin", (True, False): "single", (False, True): "middle"}
        sub(lyric, "syllabic", kinds.get((syllable.begins, syllable.joins), "end"))
        sub(lyric, "text", syllable.text)
