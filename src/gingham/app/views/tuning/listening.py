"""What the tuning drawer hears: strings one by one, in tune or not, clear or not."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from datetime import datetime
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.sound.ear import Ear
from gingham.app.sound.inputs import SIMULATED, CardInput, SimulatedInput, microphones, usual_microphone
from gingham.app.sound.transport import Transport
from gingham.app.work.worker import Job, Tick
from gingham.core.errors import GinghamError, NumberError
from gingham.core.listening.ringing import Ring, RingCheck, State, causes
from gingham.core.listening.simulate_strings import held_pitches, held_strings, open_strings
from gingham.core.listening.tuner import CLOSE_CENTS, Tone, Tuner
from gingham.core.numbers import whole
from gingham.core.practice.entries import Tick as Kept
from gingham.core.reasons import Reason
from gingham.core.sound.rate import RATE_HZ
from gingham.words.errors import say
from gingham.words.notices import notice

if TYPE_CHECKING:
    from gingham.core.fitting.result import Assignment
    from gingham.core.listening.spectra import Floats

USUAL_TUNING = "6=-14 4=7 3=-6 1=4"
USUAL_RING = "2=buzzing"
"""How the simulated player's strings are until the settings say otherwise."""
_HELD_LOOKS = 3
Keep = Callable[[Kept], None]
"""Is given what is to stand in the record."""
_STATES: tuple[State, ...] = ("clear", "buzzing", "dead")


class StringEar(QObject):
    """Listens through the chosen microphone, as a tuner or as a ring check."""

    toned = Signal(object)
    """A Tone."""
    rang = Signal(object, object)
    """A Ring and its likely causes."""
    status = Signal(str)
    changed = Signal()
    """It has begun or ended."""

    def __init__(
        self, shown: Shown, transport: Transport, settings: Settings, keep: Keep, parent: QObject
    ) -> None:
        super().__init__(parent)
        self._shown, self._transport, self._settings, self._keep = shown, transport, settings, keep
        self.ear = Ear(self)
        self.ear.made.connect(self._heard)
        self.ear.ended.connect(self._ended)
        self._maker = Job("simulated strings", self)
        self._maker.done.connect(lambda then: then())
        self.tuner: Tuner | None = None
        self.check: RingCheck | None = None
        self._assignment: Assignment | None = None
        self.tuned: dict[int, float] = {}
        """The strings that have been in tune since it listens, with their cents."""
        self._looks: dict[int, int] = {}
        self.sleep: Callable[[float], None] | None = None

    @property
    def source(self) -> str:
        """The microphone that is listened to; the simulated player where there is none."""
        return usual_microphone(self._settings.text("microphone", ""), microphones())

    @property
    def tuning_now(self) -> bool:
        """Whether the tuner listens."""
        return self.tuner is not None

    def tune(self, capo: int) -> None:
        """Listen for open strings, so many semitones up."""
        self.stop()
        piece = self._shown.piece
        tuning = [piece.instrument.open_midi(s) + capo for s in range(1, piece.instrument.strings + 1)]
        self.tuner, self.tuned, self._looks = Tuner(RATE_HZ, tuning), {}, {}
        cents = self._cents()
        tuner = self.tuner
        self._start(lambda block: tuner.feed(block) or None, lambda: open_strings(piece, cents, capo))

    def ring(self, assignment: Assignment) -> None:
        """Listen for the strings of a shape."""
        self.stop()
        piece, shape = self._shown.piece, assignment.shape
        check = RingCheck(shape, held_pitches(piece, shape), RATE_HZ)
        self.check, self._assignment = check, assignment
        faults = self._faults()
        self._start(lambda block: check.feed(block) or None, lambda: held_strings(piece, shape, faults))

    def _start(self, hear: Callable[[Floats], object], simulated: Callable[[], Floats]) -> None:
        if self.source != SIMULATED:
            try:
                self.ear.start(CardInput(self.source), hear)
            except GinghamError as error:
                self.stop()
                self.status.emit(say(error))
            self.changed.emit()
            return

        def make(_tick: Tick) -> Callable[[], None]:
            return partial(self._play, simulated(), hear)

        self._maker.start(make)
        self.changed.emit()

    def _play(self, samples: Floats, hear: Callable[[Floats], object]) -> None:
        wait = (self.sleep,) if self.sleep is not None else ()
        self.ear.start(SimulatedInput(samples, *wait), hear)

    def _pairs(self, name: str, usual: str) -> dict[int, str]:
        """Strings with what is wrong with them, as `6=-14 4=7`; words that are none are passed over."""
        out = {}
        for word in self._settings.text(name, usual).split():
            string, _, value = word.partition("=")
            with suppress(NumberError):
                out[whole(string, 1, 10)] = value
        return out

    def _cents(self) -> dict[int, float]:
        out = {}
        for string, value in self._pairs("simulated-tuning", USUAL_TUNING).items():
            with suppress(NumberError):
                out[string] = float(whole(value, -400, 400))
        return out

    def _faults(self) -> dict[int, State]:
        pairs = self._pairs("simulated-ring", USUAL_RING).items()
        return {string: state for string, value in pairs for state in _STATES if state == value}

    def _heard(self, made: object) -> None:
        if self._transport.playing:
            return  # it hears the program's own tones
        for each in made if isinstance(made, list) else ():
            if isinstance(each, Tone):
                self._toned(each)
            elif isinstance(each, Ring):
                self._rang(each)

    def _toned(self, tone: Tone) -> None:
        if self.tuner is None:
            return
        near = abs(tone.cents) <= CLOSE_CENTS
        self._looks[tone.string] = self._looks.get(tone.string, 0) + 1 if near else 0
        if self._looks[tone.string] >= _HELD_LOOKS:
            self.tuned[tone.string] = tone.cents
        self.toned.emit(tone)
        if len(self.tuned) == self._shown.piece.instrument.strings:
            self._keep(Kept(_now(), "tuned", self._piece, _named(self.tuned)))
            self.status.emit(notice("all-tuned"))
            self.stop()

    def _rang(self, ring: Ring) -> None:
        check, assignment = self.check, self._assignment
        if check is None or assignment is None:
            return
        why: tuple[Reason, ...] = causes(assignment.shape, assignment.fretting, ring)
        self.rang.emit(ring, why)
        if check.expected is None and ring is list(check.found.values())[-1]:
            found = _named({string: each.state for string, each in check.found.items()})
            self._keep(
                Kept(
                    _now(),
                    "rang",
                    self._piece,
                    found,
                    assignment.chord.text,
                    str(assignment.shape),
                )
            )
            clear = sum(each.state == "clear" for each in check.found.values())
            self.status.emit(notice("ring-done", clear=clear, total=len(check.found)))
            self.stop()

    @property
    def _piece(self) -> str:
        document = self._shown.document
        return document.identity if document is not None else ""

    def _ended(self) -> None:
        simulated = self.source == SIMULATED
        self.stop()
        self.status.emit(notice("ear-simulated" if simulated else "ear-lost"))

    def stop(self) -> None:
        """Listen no more."""
        self._maker.forget()
        self.ear.stop()
        was = self.tuner is not None or self.check is not None
        self.tuner = self.check = None
        if was:
            self.changed.emit()

    def close(self) -> None:
        """End the threads."""
        self.stop()
        self._maker.close()


def _named(found: dict[int, float] | dict[int, State]) -> dict[str, float | str]:
    return {str(string): value for string, value in sorted(found.items(), reverse=True)}


def _now() -> str:
    return datetime.now().astimezone().isoformat(timespec="seconds")
