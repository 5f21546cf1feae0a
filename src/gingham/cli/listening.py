"""`gingham listen` holds a recording against a piece; `gingham simulate` makes one with chosen faults."""

from __future__ import annotations

import argparse
import time
from pathlib import Path

import msgspec

from gingham.arguments import OneLineParser
from gingham.cli.command import Answer, Command, read
from gingham.cli.records import SimulateAnswer, SimulatedNote
from gingham.core.errors import FileError
from gingham.core.fitting.fit import fit
from gingham.core.fitting.performance import perform
from gingham.core.formats.atomic import write_atomically
from gingham.core.formats.piece_file import load_piece
from gingham.core.formats.wav import flac_bytes, wav_bytes
from gingham.core.listening.hearing import hear
from gingham.core.listening.plan import TakePlan, plan_of
from gingham.core.listening.plan_file import read_plan
from gingham.core.listening.report import report
from gingham.core.listening.simulate import BOUNDS, Take, read_fault, simulate
from gingham.core.listening.sounds import read_sound
from gingham.core.music.pitch import pitch_from_midi
from gingham.core.numbers import whole
from gingham.words.counts import counted
from gingham.words.take_answer import ListenAnswer, listen_answer, place_of

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
        played = [(fit(piece, piece.section_index(options.section)), 1)]
    else:
        performance = perform(piece)
        played = list(zip(performance.results, performance.times, strict=True))
    plan = plan_of(played) if played else None
    if plan is None or not plan.plucks:
        raise FileError("plan-empty", path=str(options.piece))
    return plan


def _table(answer: ListenAnswer) -> str:
    """The sentences, then fingers and changes."""
    lines = [sentence.text for sentence in answer.summary]
    for finger in answer.fingers:
        lines.append(
            f"{finger.finger}: {counted(finger.plucks, 'pluck')}, {round(finger.late_ms):+d} ms, "
            f"spread {finger.spread_ms:.0f} ms, {finger.level_db:+.1f} dB, spread {finger.spread_db:.1f} dB"
        )
    lines += [f"Bar {change.bar}, to {change.chord}: {round(change.ms):+d} ms" for change in answer.changes]
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
    return answer, f"{options.out}: {answer.seconds:g} s, {counted(len(answer.notes), 'pluck')}"


def _simulated(take: Take, plan: TakePlan, out: Path, faults: dict[str, float], seed: int) -> SimulateAnswer:
    notes = [
        SimulatedNote(
            round(p.t_s, 5), p.string, str(pitch_from_midi(p.midi)), round(p.gain_db, 2),
            None if p.planned is None else place_of(plan, p.planned), p.kind,
        )
        for p in take.played
    ]  # fmt: skip
    missed = [place_of(plan, i) for i in take.missed]
    return SimulateAnswer(str(out), round(len(take.samples) / take.rate, 3), seed, faults, notes, missed)


LISTEN = Command(_define, _listen)
SIMULATE = Command(_define_simulate, _simulate)
