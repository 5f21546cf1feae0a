"""`gingham fit` and `gingham changes`: a pattern on a chord line, and what the hands do at each change."""

from __future__ import annotations

import argparse

from gingham.cli.command import Answer, Command, table
from gingham.cli.limits import limit_record
from gingham.cli.options import fit_options, fitted_piece, supposed
from gingham.cli.records import (
    ChangeFinger,
    ChangeRecord,
    ChangesAnswer,
    FitAnswer,
    FitChord,
    FitEvent,
    FitProblem,
    FitWhy,
    HeldChord,
)
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Assignment, Event, Result
from gingham.core.formats.tab import section_tab
from gingham.core.judging.changes import Change, changes, hardest
from gingham.core.judging.remarks import all_problems
from gingham.core.judging.speed import Limit, full_limit
from gingham.core.music.meter import seconds
from gingham.core.pieces.chordline import Span
from gingham.core.pieces.piece import Piece
from gingham.core.shapes.fingers import print_fretting
from gingham.words.changes import change_text, change_title
from gingham.words.names import lane_name
from gingham.words.reasons import problem_text, reasons_text


def _fit(options: argparse.Namespace) -> Answer:
    result = fit(fitted_piece(options))
    answer = fit_answer(result, full_limit(result, result.piece.rules.level), supposed(options))
    return answer, fit_table(answer, result)


def _changes(options: argparse.Namespace) -> Answer:
    result = fit(fitted_piece(options))
    answer = changes_answer(changes(result), result, supposed(options))
    return answer, changes_table(answer)


def fit_answer(result: Result, limit: Limit, supposed: list[str]) -> FitAnswer:
    """A fitted section with its hand limit and problems."""
    chords = []
    for fitted in result.spans:
        span, assignment = fitted.span, fitted.assignment
        chords.append(
            FitChord(
                span.chord.text if span.chord else "N.C.",
                assignment.sounding.text if assignment else (span.chord.text if span.chord else "N.C."),
                str(assignment.shape) if assignment else None,
                fingers_text(assignment),
                span.bar,
                str(span.at),
                str(span.length),
                [choice.string for choice in assignment.basses] if assignment else [],
                list(fitted.heard),
                str(fitted.hold) if fitted.hold is not None else None,
                _why(assignment) if assignment else [],
            )
        )
    events = [_event(bar.number, event) for bar in result.bars for event in bar.events if not event.silent]
    problems = [FitProblem(bar, str(p.at), p.code, problem_text(p)) for bar, p in all_problems(result)]
    piece = result.piece
    pickup = piece.sections[result.section].chords.pickup
    return FitAnswer(
        piece.instrument.id,
        [str(pitch) for pitch in piece.instrument.tuning],
        piece.capo,
        str(piece.meter),
        float(piece.tempo),
        str(piece.swing),
        str(pickup.length) if pickup is not None else "0",
        chords,
        events,
        limit_record(limit),
        problems,
        supposed,
    )


def _why(assignment: Assignment) -> list[FitWhy]:
    """The reasons of all strings; a flat pick has no fingers."""
    basses = [(f"p{number}", choice) for number, choice in enumerate(assignment.basses, 1)]
    fingers = () if assignment.hand == "pick" else assignment.fingers
    return [
        FitWhy(lane, choice.string, choice.reasons[0].code, reasons_text(choice.reasons))
        for lane, choice in (*basses, *fingers)
    ]


def _held(assignment: Assignment, span: Span) -> HeldChord:
    fingers = fingers_text(assignment)
    return HeldChord(assignment.chord.text, str(assignment.shape), fingers, span.bar, str(span.at))


def fingers_text(assignment: Assignment | None) -> str | None:
    """The fretting fingers in shape order; None for silence, and for a shape that no hand can hold."""
    fretting = assignment.fretting if assignment is not None else None
    return None if fretting is None else print_fretting(fretting.fingers)


def _event(bar: int, event: Event) -> FitEvent:
    return FitEvent(
        bar,
        str(event.at),
        event.count,
        event.plucker,
        f"p{event.lane}" if event.lane is not None else None,
        event.string,
        event.fret,
        str(event.pitch) if event.pitch is not None else None,
        event.degree,
        event.accent,
        event.kind,
    )


def changes_answer(found: tuple[Change, ...], result: Result, supposed: list[str]) -> ChangesAnswer:
    """Changes in order, and which is the hardest."""
    worst = hardest(found)
    return ChangesAnswer(
        [_change(change, result.piece) for change in found],
        change_title(worst[0]) if worst else None,
        [
            HeldChord(
                f.span.chord.text,
                str(f.assignment.shape),
                fingers_text(f.assignment),
                f.span.bar,
                str(f.span.at),
            )
            for f in result.spans
            if f.assignment is not None and f.span.chord is not None
        ],
        supposed,
    )


def _change(change: Change, piece: Piece) -> ChangeRecord:
    fingers = [
        ChangeFinger(
            move.finger,
            move.kind,
            None if move.from_place is None else list(move.from_place),
            None if move.to_place is None else list(move.to_place),
            None if move.slots is None else str(move.slots),
            None if move.window is None else round(1000 * seconds(move.window, piece.meter, piece.tempo)),
            move.squeak,
            None if move.free is None else str(move.free),
            None if move.due is None else str(move.due),
        )
        for move in change.fingers
    ]
    return ChangeRecord(
        change.before, change.after, change.bar, str(change.at), change.seam, fingers, change.picking,
        list(change.thumb), change.squeak, change.difficulty, change.block,
        change_text(change, piece.meter, piece.tempo),
    )  # fmt: skip


def changes_table(answer: ChangesAnswer) -> str:
    """One change a paragraph, the hardest named at the end."""
    parts = [
        f"{c.before} to {c.after}, {'back to the start' if c.seam else f'bar {c.bar}'} "
        f"(difficulty {c.difficulty:g})\n  {c.text}"
        for c in answer.changes
    ]
    if answer.hardest is None:
        return "the chord never changes"
    return "\n".join([*parts, "", f"Hardest: {answer.hardest}"])


def fit_table(answer: FitAnswer, result: Result) -> str:
    """Chords, tablature with the count line under it, the hand limit, the problems, and why these strings."""
    rows = [
        [
            f"{chord.bar}",
            chord.symbol,
            chord.sounding,
            chord.shape or "-",
            " then ".join(map(str, chord.bass)) or "-",
            " ".join(chord.heard) or "-",
            chord.hold or "-",
        ]
        for chord in answer.chords
    ]
    parts = [table(rows, ["bar", "chord", "sounds", "shape", "thumb", "heard", "hold"]), section_tab(result)]
    spots = "".join(f"\n  {spot.text}: {spot.tempo:g}" for spot in answer.limit.spots)
    parts.append(f"Comfortable top speed: {answer.limit.tempo} beats a minute{spots}")
    if answer.problems:
        parts.append("\n".join(f"Bar {p.bar}: {p.text}" for p in answer.problems))
    reasons = {
        (chord.symbol, lane_name(why.lane), str(why.string), why.text): None
        for chord in answer.chords
        for why in chord.why
        if why.code != "finger-home"
    }
    if reasons:
        parts.append(table([list(row) for row in reasons], ["chord", "who", "string", "why"]))
    return "\n\n".join(parts)


FIT = Command(fit_options, _fit)
CHANGES = Command(fit_options, _changes)
