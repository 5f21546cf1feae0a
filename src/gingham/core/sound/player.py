"""The mixer that turns a timeline into blocks of samples, live or into a file.

One voice per string: a new pluck stops the old one on the sample. Everything that may change while
playing (tempo, layers, loop, the timeline itself) takes effect with the next block.
"""

from __future__ import annotations

from itertools import chain
from math import ceil
from operator import attrgetter, itemgetter

import msgspec
import numpy as np

from gingham.core.sound.room import limited
from gingham.core.sound.string import Samples, click
from gingham.core.sound.timeline import Click, SoundedNote, Timeline, between
from gingham.core.sound.voices import VoiceBank

_STOP_SAMPLES = 96  # a re-plucked string falls silent within 2 ms
_LEVEL = 0.42
_RING_OUT_S = 2.0
_NEAR = 1e-6
_SAME = 1e-12  # what arithmetic leaves between equal times
_SIX = (2, 6)  # two beats of three places each
_CUE = -1  # the strength of the soft tone that calls a change
_at_of, _when = attrgetter("at"), itemgetter(0)


class _Voice(msgspec.Struct):
    """A note that sounds: its samples, gain, and how far it has got."""

    samples: Samples
    gain: float
    at: int = 0

    def add_to(self, out: Samples, start: int, stop: int) -> None:
        """Add the next stop − start samples to `out[start:stop]`."""
        take = min(stop - start, len(self.samples) - self.at)
        if take > 0:
            out[start : start + take] += self.gain * self.samples[self.at : self.at + take]
        self.at += stop - start

    @property
    def over(self) -> bool:
        """Whether nothing is left."""
        return self.at >= len(self.samples)


class Player:
    """Plays a timeline block by block. Not thread-safe: one thread renders, and it alone changes things."""

    def __init__(self, line: Timeline, bank: VoiceBank, tempo_bpm: float, *, loop: bool = False) -> None:
        self.bank = bank
        self.tempo_bpm = tempo_bpm
        self.loop = loop
        self.muted: frozenset[str] = frozenset()
        """Fingers that are not heard; the empty name is the fretting hand's own notes."""
        self.clicks = 0
        """0 none, 1 on counted beats, 2 on subdivisions too."""
        self.cues = False
        """Whether a soft tone calls each change."""
        self.rest_beats = 0
        """Beats of rest after each round of a loop; one less each round if `shrinking`."""
        self.shrinking = False
        self.rounds = 0
        self._counted: tuple[Click, ...] = ()
        self.position = 0.0
        """Whole notes from the timeline's start; negative in the count-in."""
        self._line = line
        self._strings: dict[int, _Voice] = {}
        self._answers: dict[int, list[_Voice]] = {}
        """What free strings add, by string; it ends where the string gets a sound of its own, or stops."""
        self._tails: list[_Voice] = []
        self._rest = ceil(_RING_OUT_S * bank.rate_hz)

    @property
    def line(self) -> Timeline:
        """The timeline that is played."""
        return self._line

    @line.setter
    def line(self, line: Timeline) -> None:
        """Play another timeline from the same position."""
        self._line = line
        if self.position > line.length:
            self.position = 0.0

    def count_in(self, style: str = "bar") -> None:
        """Put the position before the start, by one of COUNT_INS: a bar of beats, a bar with subdivisions,
        its last two beats, or `ready`: a soft tone two beats ahead, then the music.
        """
        line = self._line
        divided = style == "subdivided" or (style == "bar" and self._wants_divided())
        bar = [(at - line.bar, how) for at, how in line.count if how or divided]
        if style in ("two", "ready"):
            beats = [at for at, how in bar if how]
            first = beats[-2] if len(beats) > 1 else beats[0]
            bar = [(at, how) for at, how in bar if at >= first] if style == "two" else [(first, _CUE)]
        self._counted = tuple(bar)
        self.position = bar[0][0] if style in ("two", "ready") else -line.bar

    def _wants_divided(self) -> bool:
        """Whether beats alone are too few to come in by: a six is counted in six, an off-beat led into."""
        line = self._line
        beats = [at for at, how in line.count if how]
        in_six = (len(beats), len(line.count)) == _SIX
        if in_six or not any(how for _, how in line.clicks):
            return in_six
        first = next((note.at for note in line.notes if note.gain), 0.0)
        return not any(how for _, how in between(line.clicks, first - _NEAR, first + _NEAR, key=_when))

    @property
    def finished(self) -> bool:
        """Whether everything has been played and has rung out (never while looping)."""
        return not self.loop and self.position >= self._line.length and self._rest <= 0

    def step(self) -> float:
        """Whole notes per sample at the present tempo."""
        return self._line.beat * self.tempo_bpm / 60.0 / self.bank.rate_hz

    def block(self, count: int) -> Samples:
        """The next `count` samples, limited to ±1."""
        out = np.zeros(count, dtype=np.float32)
        done = 0
        while done < count:
            done += self._part(out, done, count)
        self._sound_until(out, 0, count)
        return limited(out)

    def _part(self, out: Samples, done: int, count: int) -> int:
        """Start what begins in out[done:count], up to the loop's end; the samples passed."""
        step = self.step()
        round_length = self._line.length + self.rest_beats * self._line.beat
        until_end = round_length - self.position
        if self.loop and self._line.length > 0 and until_end < (count - done) * step:
            passed = max(0, min(count - done, ceil(until_end / step - 1e-9)))
            self._start_between(out, done, self.position, self._line.length, step)
            self.position += passed * step - round_length
            self._next_round()
            return passed if passed else self._settle()
        passed = count - done
        self._start_between(out, done, self.position, self.position + passed * step, step)
        self.position += passed * step
        if self.position >= self._line.length:
            self._rest -= passed
        return passed

    def _next_round(self) -> None:
        self.rounds += 1
        if self.shrinking:
            self.rest_beats = max(0, self.rest_beats - 1)

    def _settle(self) -> int:
        """Guards a loop shorter than a sample: go on by one sample."""
        self.position = max(self.position, 0.0)
        return 1

    def _start_between(self, out: Samples, done: int, begin: float, end: float, step: float) -> None:
        for note in between(self._line.notes, begin - _SAME, end - _SAME, key=_at_of):
            if note.finger in self.muted and note.gain:
                continue
            self._start(out, done + max(0, ceil((note.at - begin) / step - 1e-6)), note)
        self._click_between(done, begin, end, step)

    def _start(self, out: Samples, offset: int, note: SoundedNote) -> None:
        offset = min(offset, len(out))
        old = self._strings.pop(note.string, None)
        for voice in (*self._answers.pop(note.string, ()), *((old,) if old is not None else ())):
            self._stop(out, voice, offset)
        if not note.gain:
            return  # a finger has left the string
        samples = self.bank.note(note)
        self._strings[note.string] = _Voice(samples, note.gain * _LEVEL, -offset)
        for string, answer in self.bank.answers(note):
            if string not in self._strings:
                self._answers.setdefault(string, []).append(_Voice(answer, note.gain * _LEVEL, -offset))

    def _stop(self, out: Samples, voice: _Voice, offset: int) -> None:
        """Let a voice sound up to `offset`, then fall silent at once (a short ramp, no click)."""
        begin = max(0, -voice.at)
        if offset > begin:
            voice.at = max(0, voice.at)
            voice.add_to(out, begin, offset)
        rest = voice.samples[max(0, voice.at) : max(0, voice.at) + _STOP_SAMPLES]
        if len(rest) and voice.at >= 0:
            ramp = np.linspace(1.0, 0.0, len(rest), dtype=np.float32)
            self._tails.append(_Voice(rest * ramp, voice.gain, -offset))

    def _click_between(self, done: int, begin: float, end: float, step: float) -> None:
        first, last = begin - _SAME, end - _SAME
        wanted = [click for click in self._counted if first <= click[0] < min(last, 0.0)]
        if self.clicks:  # a block may hold the end of the count-in and the first beat of the music
            near = between(self._line.clicks, first, last, key=_when)
            wanted += [click for click in near if click[1] or self.clicks > 1]
        if self.cues:
            wanted += [(called, _CUE) for _, called, _, _ in self._line.changes if first <= called < last]
        for at, strength in wanted:
            offset = done + max(0, ceil((at - begin) / step - 1e-6))
            gain = 0.25 if strength == 0 else 0.6
            self._tails.append(_Voice(click(self.bank.rate_hz, strength), gain, -offset))

    def _sound_until(self, out: Samples, start: int, stop: int) -> None:
        """Add every sounding voice to the block; drop those that are over."""
        for voice in (*self._strings.values(), *chain.from_iterable(self._answers.values()), *self._tails):
            begin = max(start, -voice.at)
            if begin >= stop:
                voice.at += stop
                continue
            voice.at = max(0, voice.at)
            voice.add_to(out, begin, stop)
        self._strings = {string: voice for string, voice in self._strings.items() if not voice.over}
        self._answers = {
            string: left
            for string, voices in self._answers.items()
            if (left := [voice for voice in voices if not voice.over])
        }
        self._tails = [voice for voice in self._tails if not voice.over]
