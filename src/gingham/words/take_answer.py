"""What the listener has to say of a take, as a record: every sentence beside the numbers it was made from."""

from __future__ import annotations

import msgspec

from gingham.core.listening.heard import Hearing
from gingham.core.listening.plan import TakePlan
from gingham.core.listening.report import Report
from gingham.core.listening.sounds import Sound
from gingham.core.music.pitch import pitch_from_midi
from gingham.words.listening import take_text, take_values


class PlannedPlace(msgspec.Struct):
    """A planned pluck: its bar as it is counted (pick-up 0), place in it (of a whole note), and string."""

    bar: int
    at: str
    string: int


class TakeFacts(msgspec.Struct):
    """The recording: seconds, samples a second, when the first planned pluck sounds, tempo as it is played.

    `drift_percent` is how much faster the take is at its end; `analysed_s` what the analysis took.
    `tempo` and `drift_percent` are null in a take without a tempo; `spread_db` is how far a finger's plucks
    lie around its own loudness; `swing` is the first half's share of the beat as it was played; `accent_db`, `downbeat_db` and `thumb_db` are written accents over plain plucks
    of the same notes, the bass on 1 over the other basses, the thumb over the fingers (null where there is too
    little to compare), `click_ms` how far all lie behind the click (null without one).
    """

    seconds: float
    sample_rate: int
    starts_s: float
    tempo: float | None
    drift_percent: float | None
    spread_ms: float | None
    spread_db: float
    accent_db: float | None
    downbeat_db: float | None
    thumb_db: float | None
    click_ms: float | None
    swing: float | None
    cents: dict[int, float]
    clipped_percent: float
    cut: bool
    analysed_s: float


class TakeNote(msgspec.Struct):
    """A pluck that was heard: when it starts in the file, on which string, its pitch and level.

    `planned` is null for a pluck that nobody planned; `late_ms` is against the player's own beat, negative
    is early; `sure` is 0 to 1.
    """

    t_s: float
    string: int
    pitch: str
    level_db: float
    planned: PlannedPlace | None
    late_ms: float | None
    sure: float


class TakeFinger(msgspec.Struct):
    """A finger over the take, in milliseconds against the running beat and decibels against all plucks."""

    finger: str
    plucks: int
    late_ms: float
    spread_ms: float
    level_db: float
    spread_db: float


class TakeChange(msgspec.Struct):
    """A chord change and by how many milliseconds it holds the beat up."""

    chord: str
    bar: int
    at: str
    ms: float


class TakeSentence(msgspec.Struct):
    """A sentence with the values it was made from."""

    code: str
    values: dict[str, str | int]
    text: str


class TakeRing(msgspec.Struct):
    """A pluck that had half a second or more to ring: what it lost in dB a second, and how many milliseconds
    before its end it was stopped (0 if it was not).
    """

    planned: PlannedPlace
    loss_db_s: float
    stopped_ms: float


class ListenAnswer(msgspec.Struct):
    """`gingham listen`."""

    take: TakeFacts
    notes: list[TakeNote]
    missed: list[PlannedPlace]
    unclear: list[PlannedPlace]
    fingers: list[TakeFinger]
    changes: list[TakeChange]
    rings: list[TakeRing]
    summary: list[TakeSentence]


def listen_answer(
    sound: Sound, hearing: Hearing, said: Report, plan: TakePlan, analysed_s: float, *, free: bool
) -> ListenAnswer:
    """A hearing and its report as a record."""

    facts = TakeFacts(
        round(sound.seconds, 3), sound.file_rate, round(said.starts_s, 4), None if free else said.tempo,
        None if free else said.drift_percent, None if free else said.spread_ms,
        said.spread_db, said.dynamics.accent_db, said.dynamics.downbeat_db, said.dynamics.thumb_db,
        said.click_ms, said.swing.share if said.swing is not None else None,
        {string: round(cents, 1) for string, cents in sorted(hearing.cents.items())},
        round(100 * sound.clipped, 2), sound.cut, round(analysed_s, 4),
    )  # fmt: skip
    notes = [
        TakeNote(
            round(note.t_s, 5), note.string, str(pitch_from_midi(note.midi)),
            round(note.level_db, 2), None if note.planned is None else place_of(plan, note.planned), late,
            note.sure,
        )
        for note, late in zip(hearing.notes, said.late_ms, strict=True)
    ]  # fmt: skip
    return ListenAnswer(
        facts,
        notes,
        [place_of(plan, i) for i in hearing.missed],
        [place_of(plan, i) for i in hearing.unclear],
        [
            TakeFinger(f.finger, f.plucks, f.late_ms, f.spread_ms, f.level_db, f.spread_db)
            for f in said.fingers
        ],
        [TakeChange(c.chord, c.bar, c.at, c.ms) for c in said.changes],
        [
            TakeRing(place_of(plan, ring.planned), ring.loss_db_s, round(1000 * ring.stopped_s, 1))
            for ring in hearing.lasting
        ],
        [TakeSentence(r.code, take_values(r), take_text(r)) for r in said.summary],
    )


def place_of(plan: TakePlan, index: int) -> PlannedPlace:
    """Where a planned pluck is."""
    pluck = plan.plucks[index]
    return PlannedPlace(pluck.bar, str(pluck.at), pluck.string)
