"""`gingham listen` holds a recording against a piece; `gingham simulate` makes one with chosen faults."""

from __future__ import annotations

import argparse
import time
from pathlib import Path

import msgspec

from gingham.arguments import OneLineParser
from gingham.cli.command import Answer, Command, read
from gingham.cli.records import (
    ListenAnswer,
    PlannedPlace,
    SimulateAnswer,
    SimulatedNote,
    TakeChange,
    TakeFacts,
    TakeFinger,
    TakeNote,
    TakeSentence,
)
from gingham.core.errors import FileError
from gingham.core.fitting.fit import fit
from gingham.core.fitting.performance import perform
from gingham.core.formats.atomic import write_atomically
from gingham.core.formats.piece_file import load_piece
from gingham.core.formats.wav import flac_bytes, wav_bytes
from gingham.core.listening.hearing import Hearing, hear
from gingham.core.listening.plan import TakePlan, plan_of
from gingham.core.listening.plan_file import read_plan
from gingham.core.listening.report import Report, report
from gingham.core.listening.simulate import BOUNDS, Take, read_fault, simulate
from gingham.core.listening.sounds import Sound, read_sound
from gingham.core.music.pitch import pitch_from_midi
from gingham.core.numbers import whole
from gingham.words.listening import take_text, take_values

_SOUNDS = (".wav", ".flac")


def _define(parser: OneLineParser) -> None:
    parser.add_argument("take", type=Path, help="a recording: WAV, FLAC, any rate and channels")
    against = parser.add_mutually_exclusive_group(required=True)
    against.add_argument("--piece", type=Path, metavar="PIECE", help="what should have been played")
    against.add_argument("--against", type=Path, metavar="FIT.json", help="what gingham fit --json printed")
    parser.add_argument("--section", metavar="NAME", help="one section of the piece, once")
    parser.add_argument("--free", action="store_true", help="without a tempo: order and strings alone")


def _listen(options: argparse.Namespace) -> Answer:
    plan = read_plan(options.against) if options.against is not None else _piece_plan(options)
    sound = read_sound(options.take)
    began = time.perf_counter()
    hearing = hear(sound.samples, sound.rate, plan, free=options.free)
    said = report(hearing, plan, clipped=sound.clipped, free=options.free)
    took = time.perf_counter() - began
    answer = listen_answer(sound, hearing, said, plan, took, free=options.free)
    return answer, _table(answer)


def _piece_plan(options: argparse.Namespace) -> TakePlan:
    piece = load_piece(options.piece)
    if options.section is not None:
        plan = plan_of([(fit(piece, piece.section_index(options.section)), 1)])
    else:
        performance = perform(piece)
        plan = plan_of(list(zip(performance.results, performance.times, strict=True)))
    if not plan.plucks:
        raise FileError("plan-empty", path=str(options.piece))
    return plan


def listen_answer(
    sound: Sound, hearing: Hearing, said: Report, plan: TakePlan, analysed_s: float, *, free: bool
) -> ListenAnswer:
    """A hearing and its report as a record."""

    facts = TakeFacts(
        round(sound.seconds, 3), sound.file_rate, round(said.starts_s, 4), None if free else said.tempo,
        None if free else said.drift_percent, None if free else said.spread_ms,
        {string: round(cents, 1) for string, cents in sorted(hearing.cents.items())},
        round(100 * sound.clipped, 2), sound.cut, round(analysed_s, 4),
    )  # fmt: skip
    notes = [
        TakeNote(
            round(note.t_s, 5), note.string, str(pitch_from_midi(note.midi)),
            round(note.level_db, 2), None if note.planned is None else _place(plan, note.planned), late,
            note.sure,
        )
        for note, late in zip(hearing.notes, said.late_ms, strict=True)
    ]  # fmt: skip
    return ListenAnswer(
        facts,
        notes,
        [_place(plan, i) for i in hearing.missed],
        [_place(plan, i) for i in hearing.unclear],
        [
            TakeFinger(f.finger, f.plucks, f.late_ms, f.spread_ms, f.level_db, f.spread_db)
            for f in said.fingers
        ],
        [TakeChange(c.chord, c.bar, c.at, c.ms) for c in said.changes],
        [TakeSentence(r.code, take_values(r), take_text(r)) for r in said.summary],
    )


def _table(answer: ListenAnswer) -> str:
    """The sentences, then fingers and changes."""
    lines = [sentence.text for sentence in answer.summary]
    for finger in answer.fingers:
        lines.append(
            f"{finger.finger}: {finger.plucks} plucks, {finger.late_ms:+.0f} ms, "
            f"spread {finger.spread_ms:.0f} ms, {finger.level_db:+.1f} dB, spread {finger.spread_db:.1f} dB"
        )
    lines += [f"Bar {change.bar}, to {change.chord}: {change.ms:+.0f} ms" for change in answer.changes]
    return "\n".join(lines)


def _define_simulate(parser: OneLineParser) -> None:
    parser.add_argument("piece", type=Path)
    parser.add_argument("out", type=Path, help=".wav or .flac; the truth goes beside it as .truth.json")
    parser.add_argument("--section", metavar="NAME", help="one section of the piece, once")
    parser.add_argument("--fault", action="append", default=[], metavar="KIND=VALUE", help=" ".join(BOUNDS))
    parser.add_argument("--seed", default="1", metavar="N")


def _simulate(options: argparse.Namespace) -> Answer:
    faults = dict(read("--fault", text, read_fault) for text in options.fault)
    seed = read("--seed", options.seed, lambda text: whole(text, 0, 1_000_000))
    if options.out.suffix.lower() not in _SOUNDS:
        raise FileError("export-suffix", path=str(options.out), known=_SOUNDS)
    plan = _piece_plan(options)
    take = simulate(load_piece(options.piece), plan, faults, seed)
    answer = _simulated(take, plan, options.out, faults, seed)
    data = (wav_bytes if options.out.suffix.lower() == ".wav" else flac_bytes)(take.samples)
    write_atomically(options.out, data)
    write_atomically(options.out.with_suffix(".truth.json"), msgspec.json.encode(answer) + b"\n")
    return answer, f"{options.out}: {answer.seconds:g} s, {len(answer.notes)} plucks"


def _simulated(take: Take, plan: TakePlan, out: Path, faults: dict[str, float], seed: int) -> SimulateAnswer:
    notes = [
        SimulatedNote(
            round(p.t_s, 5), p.string, str(pitch_from_midi(p.midi)), round(p.gain_db, 2),
            None if p.planned is None else _place(plan, p.planned), p.kind,
        )
        for p in take.played
    ]  # fmt: skip
    missed = [_place(plan, i) for i in take.missed]
    return SimulateAnswer(str(out), round(len(take.samples) / take.rate, 3), seed, faults, notes, missed)


def _place(plan: TakePlan, index: int) -> PlannedPlace:
    pluck = plan.plucks[index]
    return PlannedPlace(pluck.bar, str(pluck.at), pluck.string)


LISTEN = Command(_define, _listen)
SIMULATE = Command(_define_simulate, _simulate)
