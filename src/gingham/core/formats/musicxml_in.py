"""MusicXML in: one part with its bars, chord symbols and words; what is guessed is said.

The file may be hostile: entities are refused, sizes are limited, and every number is checked.
"""

from __future__ import annotations

import io
import zipfile
import zlib
from fractions import Fraction
from xml.etree import ElementTree as ET

import msgspec
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from gingham.core.errors import FileError, GinghamError, InputError, MeterError
from gingham.core.finding.part import SILENCE, Named, Part, PartBar, PartSection, Sounded, Sung
from gingham.core.formats.harmony import Change, symbol
from gingham.core.formats.progress import MAX_BARS, MAX_NOTES, Tick, go_on, instrument_for, tempo_in_beats
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord, parse_chord
from gingham.core.music.key import Key, guess_key, sounding
from gingham.core.music.meter import Meter, meter
from gingham.core.music.pitch import LETTERS, NATURAL, spell_pitch_class
from gingham.core.numbers import exact, is_whole, whole
from gingham.core.reasons import Reason
from gingham.core.shapes.shape import Shape
from gingham.core.values import replace

_MOST_MB = 16
_MOST_ELEMENTS = 450_000  # 30,000 notes of 15 elements; building the tree of more takes seconds
_FINEST = 100_000  # parts of a quarter note that a file may count in
_LARGEST = 100_000_000
_ORNAMENTS = {"hammer-on": "hammer", "pull-off": "pull"}
_ACCENTS = {"accent": 1, "strong-accent": 2}


def part_from_musicxml(data: bytes, name: str = "", tick: Tick | None = None) -> Part:
    """The part that a MusicXML file holds (`.musicxml`, `.xml`, or compressed `.mxl`).

    Raises
    ------
    FileError
        Not readable as MusicXML, hostile, too large, or with nothing to pluck in it; says where.
    """
    plain = _plain(data, name)
    if plain.count(b"<") - plain.count(b"</") > _MOST_ELEMENTS:
        raise FileError("xml-large", path=name, most=_MOST_ELEMENTS)
    try:
        root = fromstring(plain)
    except DefusedXmlException as error:
        raise FileError("xml-hostile", path=name) from error
    except (ET.ParseError, ValueError, LookupError) as error:
        line = getattr(error, "position", (0, 0))[0]
        raise FileError("xml-broken", path=name, line=line, why=str(error)) from error
    if root.tag != "score-partwise":
        raise FileError("xml-kind", path=name, tag=str(root.tag)[:40])
    try:
        return _ScoreReader(root, name).part(tick)
    except (ArithmeticError, ValueError, KeyError, IndexError) as error:
        raise FileError("xml-value", path=name, place="the file", why=_why(error)) from error


def _plain(data: bytes, name: str) -> bytes:
    """The score itself; a compressed file is opened as far as the limit goes."""
    if len(data) > _MOST_MB * 1_000_000:
        raise FileError("file-large", path=name, most=_MOST_MB)
    if not data.startswith(b"PK"):
        return data
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            inside = [
                i for i in packed.infolist()
                if i.filename.endswith((".xml", ".musicxml")) and not i.filename.startswith("META-INF")
            ]  # fmt: skip
            if not inside:
                raise FileError("xml-broken", path=name, line=0, why="there is no score in it")
            if inside[0].file_size > _MOST_MB * 1_000_000:
                raise FileError("file-large", path=name, most=_MOST_MB)
            with packed.open(inside[0]) as file:
                return file.read(_MOST_MB * 1_000_000)
    except (zipfile.BadZipFile, zlib.error, NotImplementedError, RuntimeError, OSError, EOFError) as error:
        raise FileError("xml-broken", path=name, line=0, why=str(error)) from error


class _Measure(msgspec.Struct):
    """What one measure gathers: notes with their length, harmonies, marks."""

    notes: list[tuple[Sounded, Fraction, bool]] = msgspec.field(default_factory=list)
    chords: list[tuple[Fraction, Chord | None, Shape | None]] = msgspec.field(default_factory=list)
    words: list[Sung] = msgspec.field(default_factory=list)
    end: Fraction = Fraction(0)
    mark: str | None = None
    forward: bool = False
    backward: int = 0


class _ScoreReader:
    """Walks through one part, measure by measure, with a cursor in whole notes."""

    def __init__(self, root: ET.Element, name: str) -> None:
        self.root, self.name = root, name
        self.divisions = Fraction(1)
        self.meter: Meter | None = None
        self.key: Key | None = None
        self.capo, self.tempo_quarters = 0, 0.0
        self.tuning: dict[int, str] = {}
        self.transpose = 0
        self.guesses: list[Reason] = []
        self.staff: str | None = None

    def part(self, tick: Tick | None) -> Part:
        """The whole part."""
        chosen = self._choose()
        if chosen is None:
            raise FileError("xml-no-part", path=self.name)
        measures = []
        elements = chosen.findall("measure")
        if len(elements) > MAX_BARS:
            raise FileError("part-long", path=self.name, most=MAX_BARS)
        notes = sum(1 for _ in chosen.iter("note"))
        if notes > MAX_NOTES:
            raise FileError("part-notes", path=self.name, given=notes, most=MAX_NOTES)
        for number, element in enumerate(elements, 1):
            go_on(tick, number / len(elements))
            try:
                measures.append(self._measure(element))
            except (ArithmeticError, ValueError) as error:
                place = f"measure {element.get('number', str(number))[:20]}"
                raise FileError("xml-value", path=self.name, place=place, why=_why(error)) from error
        of = self.meter or meter(4, 4)
        instrument = self._instrument(measures)
        key = self.key or guess_key(tuple(c for m in measures for _, c, _ in m.chords if c is not None))
        sections = _sections([(m, self._bar(m, of, key, instrument)) for m in measures])
        tempo = tempo_in_beats(self.tempo_quarters, of)
        return Part(self._title(), instrument, self.capo, of, tempo, tuple(sections), tuple(self.guesses))

    def _title(self) -> str:
        found = self.root.findtext("work/work-title") or self.root.findtext("movement-title") or ""
        return found.strip()[:200]

    def _choose(self) -> ET.Element | None:
        """The first part with tablature, else the first with notes."""
        parts = self.root.findall("part")
        tabs = [p for p in parts if p.find(".//technical/string") is not None]
        if len(parts) > 1 and (tabs or parts):
            self.guesses.append(Reason.of("read-first-part", parts=len(parts)))
        pitched = (p for p in parts if p.find(".//note/pitch") is not None)
        chosen = tabs[0] if tabs else next(pitched, None)
        if chosen is not None and tabs:
            staves = {
                n.findtext("staff") for n in chosen.iter("note") if n.find(".//technical/string") is not None
            }
            self.staff = next(iter(staves)) if len(staves) == 1 else None
        return chosen

    def _instrument(self, measures: list[_Measure]) -> Instrument:
        tuning = [self.tuning[line] for line in sorted(self.tuning)]
        highest = max((s.string or 0 for m in measures for s, _, _ in m.notes), default=0)
        instrument, guessed = instrument_for(tuning, highest, self.name)
        if guessed:
            self.guesses.append(Reason.of("read-tuning", tuning=instrument.tuning_text()))
        if not 0 <= self.capo <= instrument.frets - 5:
            raise FileError("xml-value", path=self.name, place="capo", why=str(self.capo))
        return instrument

    # Measures.

    def _measure(self, element: ET.Element) -> _Measure:
        out, at, last = _Measure(), Fraction(0), Fraction(0)
        for child in element:
            if child.tag == "attributes":
                self._attributes(child)
            elif child.tag == "note":
                at, last = self._note(child, out, at, last)
            elif child.tag in ("backup", "forward"):
                length = self._duration(child)
                at = max(Fraction(0), at - length) if child.tag == "backup" else at + length
            elif child.tag == "harmony":
                self._harmony(child, out, at)
            elif child.tag == "direction":
                self._direction(child, out)
            elif child.tag == "sound":
                self._tempo(child)
            elif child.tag == "barline":
                _repeats(child, out)
            out.end = max(out.end, at)
        return out

    def _duration(self, element: ET.Element) -> Fraction:
        text = element.findtext("duration") or "0"
        length = exact(text.strip(), 0, _LARGEST) / self.divisions / 4
        if length > 64 or length.denominator > _FINEST:
            raise ValueError(f"a duration of {text[:20]}")
        return length

    def _attributes(self, element: ET.Element) -> None:
        if text := element.findtext("divisions"):
            self.divisions = exact(text.strip(), Fraction(1, _FINEST), _FINEST)
        if (time := element.find("time")) is not None and time.find("beats") is not None:
            self._time(time)
        if (fifths := element.findtext("key/fifths")) and self.key is None:
            self.key = _key(_whole(fifths, -7, 7), element.findtext("key/mode") == "minor")
        for line in element.findall("staff-details/staff-tuning"):
            alter = _sign(line.findtext("tuning-alter"))
            name = f"{line.findtext('tuning-step')}{alter}{line.findtext('tuning-octave')}"
            self.tuning[_whole(line.get("line"), 0, 99)] = name
        if text := element.findtext("staff-details/capo"):
            self.capo = _whole(text, 0, 99)
        if (moved := element.find("transpose")) is not None:
            octaves = _whole(moved.findtext("octave-change"), -9, 9)
            self.transpose = _whole(moved.findtext("chromatic"), -99, 99) + 12 * octaves

    def _time(self, time: ET.Element) -> None:
        beats = sum(_whole(b, 0, 99) for b in (time.findtext("beats") or "4").split("+"))
        try:
            found = meter(beats, _whole(time.findtext("beat-type") or "4", 1, 99))
        except MeterError as error:
            raise ValueError(f"a meter of {time.findtext('beats')}/{time.findtext('beat-type')}") from error
        if self.meter is not None and found != self.meter:
            raise ValueError(f"the meter changes from {self.meter} to {found}; a piece has one meter here")
        self.meter = found

    def _note(
        self, element: ET.Element, out: _Measure, at: Fraction, last: Fraction
    ) -> tuple[Fraction, Fraction]:
        if element.find("grace") is not None or element.find("cue") is not None:
            return at, last
        length = self._duration(element)
        begin = last if element.find("chord") is not None else at
        end = at if element.find("chord") is not None else at + length
        if self.staff is not None and element.findtext("staff") != self.staff:
            return end, begin
        if element.find("rest") is None:
            note = self._sounded(element, begin)
            tied = any(t.get("type") == "stop" for t in element.findall("tie"))
            out.notes.append((note, length, tied))
        for lyric in element.findall("lyric"):
            text = (lyric.findtext("text") or "").strip()
            if text:
                joins = lyric.findtext("syllabic") in ("begin", "middle")
                number = lyric.get("number", "1")
                verse = int(number) if is_whole(number) and int(number) < 100 else 1
                out.words.append(Sung(begin, text[:60].replace("|", "/"), joins, verse))
        return end, begin

    def _sounded(self, element: ET.Element, at: Fraction) -> Sounded:
        technical = element.find("notations/technical")
        string = technical.findtext("string") if technical is not None else None
        fret = technical.findtext("fret") if technical is not None else None
        pluck = (technical.findtext("pluck") if technical is not None else "") or ""
        chuck = element.findtext("notehead") == "x"
        pitch = element.find("pitch")
        midi = None
        if pitch is not None and not chuck:
            octave = _whole(pitch.findtext("octave") or "4", 0, 9)
            step = LETTERS.index((pitch.findtext("step") or "C").strip())
            midi = 12 * (octave + 1) + NATURAL[step] + _alter(pitch.findtext("alter"))
            midi += self.transpose
            if not 0 <= midi <= 127:
                raise ValueError(f"a pitch of MIDI {midi}")
        finger = pluck.strip().lower()[:1]
        return Sounded(
            at,
            midi,
            _whole(string, 0, 99) if string else None,
            _whole(fret, 0, 99) if fret and not chuck else None,
            {"t": "p"}.get(finger, finger) if finger in "timapce" else "",
            "chuck" if chuck else _kind(element),
            max((_ACCENTS.get(a.tag, 0) for a in element.findall("notations/articulations/*")), default=0),
        )

    def _harmony(self, element: ET.Element, out: _Measure, at: Fraction) -> None:
        offset = exact((element.findtext("offset") or "0").strip(), -_LARGEST, _LARGEST) / self.divisions / 4
        where = max(Fraction(0), at + offset)
        kind = element.find("kind")
        if element.find("root") is None or kind is None or kind.text == "none":
            out.chords.append((where, None, None))
            return
        changes: list[Change] = [
            (
                _whole(d.findtext("degree-value") or "1", 1, 13),
                _whole(d.findtext("degree-alter"), -2, 2),
                d.findtext("degree-type") or "add",
            )
            for d in element.findall("degree")
        ]
        text = symbol(
            _step(element, "root"), (kind.text or "").strip(), kind.get("text"), tuple(changes),
            _step(element, "bass"),
        )  # fmt: skip
        try:
            chord = parse_chord(text)
        except InputError:
            return
        out.chords.append((where, chord, _shape(element.find("frame"))))

    def _direction(self, element: ET.Element, out: _Measure) -> None:
        mark = element.findtext("direction-type/rehearsal")
        if mark and mark.strip():
            out.mark = mark.strip()[:80]
        for sound in element.findall("sound"):
            self._tempo(sound)

    def _tempo(self, sound: ET.Element) -> None:
        tempo = sound.get("tempo")
        if tempo and not self.tempo_quarters:
            self.tempo_quarters = float(exact(tempo.strip(), 0, 100_000))

    # From a measure to a bar.

    def _bar(self, measure: _Measure, meter: Meter, key: Key, instrument: Instrument) -> PartBar:
        notes = []
        for note, _, tied in measure.notes:
            if tied or note.at >= meter.bar:
                continue
            if note.string is not None and not 1 <= note.string <= instrument.strings:
                raise FileError("part-string", path=self.name, string=note.string, strings=instrument.strings)
            known = note
            if note.midi is None and note.kind != "chuck":
                continue
            if note.string is not None and note.fret is None and note.midi is not None:
                known = replace(note, fret=note.midi - instrument.open_midi(note.string) - self.capo)
            if known.fret is not None and not 0 <= known.fret <= instrument.frets:
                known = replace(known, string=None, fret=None)
            notes.append(known)
        chords = []
        for at, chord, shape in sorted(measure.chords, key=lambda c: c[0]):
            if at < meter.bar:
                text = SILENCE if chord is None else sounding(chord, -self.capo % 12, key).text
                fits = shape if shape is not None and len(shape.frets) == instrument.strings else None
                chords.append(Named(at, text, fits))
        length = measure.end if 0 < measure.end < meter.bar else meter.bar
        ordered = tuple(sorted(notes, key=lambda n: (n.at, -(n.string or 0))))
        return PartBar(length, ordered, tuple(chords), tuple(w for w in measure.words if w.at < meter.bar))


def _sections(bars: list[tuple[_Measure, PartBar]]) -> list[PartSection]:
    """Bars gathered at rehearsal marks and repeat signs; only the first bar of all may be short."""
    out: list[PartSection] = []
    now: list[PartBar] = []
    name = ""

    def close(times: int = 1) -> None:
        if now:
            out.append(PartSection(name, tuple(now), times))
            now.clear()

    late: Named | None = None  # a chord at the end of a short measure is the next one's
    full = max((bar.length for _, bar in bars), default=Fraction(0))
    for measure, bar in bars:
        if measure.mark is not None or measure.forward:
            close()
            name = measure.mark if measure.mark is not None else name if not out else ""
        whole = bar if not now and not out else replace(bar, length=full)
        if late is not None and not any(chord.at == 0 for chord in whole.chords):
            whole = replace(whole, chords=(Named(Fraction(0), late.symbol, late.shape), *whole.chords))
        late = next((chord for chord in whole.chords if chord.at >= whole.length), None)
        now.append(replace(whole, chords=tuple(c for c in whole.chords if c.at < whole.length)))
        if measure.backward:
            close(measure.backward)
            name = ""
    close()
    return out


def _repeats(barline: ET.Element, out: _Measure) -> None:
    repeat = barline.find("repeat")
    if repeat is None:
        return
    if repeat.get("direction") == "forward":
        out.forward = True
    else:
        out.backward = max(2, _whole(repeat.get("times") or "2", 0, 99))


def _kind(element: ET.Element) -> str:
    notations = element.find("notations")
    if notations is None:
        return "pluck"
    for tag, kind in _ORNAMENTS.items():
        if any(e.get("type") == "stop" for e in notations.findall(f"technical/{tag}")):
            return kind
    if any(e.get("type") == "stop" for e in notations.findall("slide")):
        return "slide"
    brush = notations.find("arpeggiate")
    if brush is not None:
        return "brush-up" if brush.get("direction") == "down" else "brush-down"
    return "pluck"


def _whole(text: str | None, least: int, most: int) -> int:
    """A whole number of the file; 0 where there is none. NumberError outside its bounds."""
    return whole((text or "0").strip(), least, most)


def _alter(text: str | None) -> int:
    """Semitones of an alteration, quarter tones rounded; 0 where there is none."""
    return round(exact((text or "0").strip(), -9, 9))


def _why(error: Exception) -> object:
    """What is wrong, to be worded where it is shown."""
    return error if isinstance(error, GinghamError) else str(error)[:200]


def _sign(alter: str | None) -> str:
    number = _alter(alter)
    if abs(number) > 2:
        raise ValueError(f"an alteration by {number}")
    return "#" * number if number >= 0 else "b" * -number


def _step(element: ET.Element, name: str) -> str:
    step = element.findtext(f"{name}/{name}-step")
    return f"{step.strip()}{_sign(element.findtext(f'{name}/{name}-alter'))}" if step else ""


def _shape(frame: ET.Element | None) -> Shape | None:
    if frame is None:
        return None
    strings = _whole(frame.findtext("frame-strings"), 0, 99)
    if not 3 <= strings <= 10:
        return None
    frets: dict[int, int] = {}
    for note in frame.findall("frame-note"):
        frets[_whole(note.findtext("string"), 0, 99)] = _whole(note.findtext("fret"), 0, 99)
    if not frets or not all(0 <= fret <= 30 for fret in frets.values()):
        return None
    return Shape(tuple(frets.get(string) for string in range(strings, 0, -1)))


def _key(fifths: int, minor: bool) -> Key:
    step = fifths + (3 if minor else 0)
    return Key(spell_pitch_class(7 * step % 12, flats=fifths < 0), minor)
