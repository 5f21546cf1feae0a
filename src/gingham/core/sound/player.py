"""The mixer that turns a timeline into blocks of samples, live or into a file.

One voice per string: a new pluck stops the old one on the sample. Everything that may change while
playing (tempo, layers, loop, the timeline itself) takes effect with the next block.
"""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass, field, replace
from math import ceil

import numpy as np

from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import (
    NYLON_FINGER,
    NYLON_THUMB,
    STEEL_FINGER,
    STEEL_THUMB,
    Samples,
    chuck,
    click,
    pluck,
)
from gingham.core.sound.timeline import Note, Timeline

_NOTE_S = 4.0
_NYLON_NOTE_S = 2.5
_STOP_SAMPLES = 96  # a re-plucked string falls silent within 2 ms
_LEVEL = 0.42
_KNEE = 0.75
_RING_OUT_S = 2.0
_FOLLOW_THROUGH_CUTOFF = 1.5  # a longer stroke lets more high partials through


@dataclass(slots=True)
class VoiceBank:
    """Plucked notes computed once each."""

    nylon: bool = False
    rate_hz: int = RATE_HZ
    _known: dict[tuple[int | None, bool, bool, bool], Samples] = field(default_factory=dict)

    def note(self, midi: int | None, thumb: bool, soft: bool, bright: bool = False) -> Samples:
        """Samples of a note with a peak of about 1, from the cache or computed now."""
        key = (midi, thumb, soft, bright)
        if key not in self._known:
            self._known[key] = self._make(midi, thumb, soft, bright)
        return self._known[key]

    def _make(self, midi: int | None, thumb: bool, soft: bool, bright: bool) -> Samples:
        if midi is None:
            return chuck(self.rate_hz)
        thumbs, fingers = (NYLON_THUMB, NYLON_FINGER) if self.nylon else (STEEL_THUMB, STEEL_FINGER)
        length_s = _NYLON_NOTE_S if self.nylon else _NOTE_S
        timbre = thumbs if thumb or soft else fingers
        if bright:
            timbre = replace(timbre, cutoff_hz=timbre.cutoff_hz * _FOLLOW_THROUGH_CUTOFF)
        return pluck(midi, timbre, length_s, self.rate_hz)


@dataclass(slots=True)
class _Voice:
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
        self.thumb_only = False
        self.clicks = False
        self.position = 0.0
        """Whole notes from the timeline's start; negative in the count-in."""
        self._line = line
        self._times = [note.at for note in line.notes]
        self._strings: dict[int, _Voice] = {}
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
        self._times = [note.at for note in line.notes]
        if self.position > line.length:
            self.position = 0.0

    def count_in(self) -> None:
        """Put the position one bar before the start: clicks on the counted beats, then the music."""
        self.position = -self._line.bar

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
        return _limited(out)

    def _part(self, out: Samples, done: int, count: int) -> int:
        """Start what begins in out[done:count], up to the loop's end; the samples passed."""
        step = self.step()
        until_end = self._line.length - self.position
        if self.loop and self._line.length > 0 and until_end < (count - done) * step:
            passed = max(0, min(count - done, ceil(until_end / step - 1e-9)))
            self._start_between(out, done, self.position, self._line.length, step)
            self.position += passed * step - self._line.length
            return passed if passed else self._settle()
        passed = count - done
        self._start_between(out, done, self.position, self.position + passed * step, step)
        self.position += passed * step
        if self.position >= self._line.length:
            self._rest -= passed
        return passed

    def _settle(self) -> int:
        """Guards a loop shorter than a sample: go on by one sample."""
        self.position = max(self.position, 0.0)
        return 1

    def _start_between(self, out: Samples, done: int, begin: float, end: float, step: float) -> None:
        first = bisect_left(self._times, begin - 1e-12)
        for note in self._line.notes[first:]:
            if note.at >= end - 1e-12:
                break
            if self.thumb_only and not note.thumb:
                continue
            self._start(out, done + max(0, ceil((note.at - begin) / step - 1e-6)), note)
        self._click_between(done, begin, end, step)

    def _start(self, out: Samples, offset: int, note: Note) -> None:
        offset = min(offset, len(out))
        old = self._strings.pop(note.string, None)
        if old is not None:
            self._stop(out, old, offset)
        samples = self.bank.note(note.midi, note.thumb, note.soft, note.bright)
        self._strings[note.string] = _Voice(samples, note.gain * _LEVEL, -offset)

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
        wanted: list[tuple[float, bool]] = []
        if begin < 0:
            beats = round(self._line.bar / self._line.beat)
            wanted = [(-self._line.bar + k * self._line.beat, k == 0) for k in range(beats)]
        if self.clicks:  # a block may hold the end of the count-in and the first beat of the music
            wanted += self._line.clicks
        for at, strong in wanted:
            if begin - 1e-12 <= at < end - 1e-12:
                offset = done + max(0, ceil((at - begin) / step - 1e-6))
                self._tails.append(_Voice(click(self.bank.rate_hz, strong), 0.6, -offset))

    def _sound_until(self, out: Samples, start: int, stop: int) -> None:
        """Add every sounding voice to the block; drop those that are over."""
        for voice in (*self._strings.values(), *self._tails):
            begin = max(start, -voice.at)
            if begin >= stop:
                voice.at += stop
                continue
            voice.at = max(0, voice.at)
            voice.add_to(out, begin, stop)
        self._strings = {string: voice for string, voice in self._strings.items() if not voice.over}
        self._tails = [voice for voice in self._tails if not voice.over]


def _limited(samples: Samples) -> Samples:
    """Soft limiting above the knee; below it the signal is untouched."""
    size = np.abs(samples)
    if float(size.max(initial=0.0)) <= _KNEE:
        return samples
    room = 1.0 - _KNEE
    soft = _KNEE + room * np.tanh((size - _KNEE) / room)
    return np.where(size > _KNEE, np.sign(samples) * soft, samples).astype(np.float32)
