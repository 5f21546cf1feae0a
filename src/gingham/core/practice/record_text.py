"""The record of practising as CSV and as JSON: everything that is kept, in plain fields."""

from __future__ import annotations

import csv
import io

import msgspec

from gingham.core.practice.attempt import Attempt, Spot
from gingham.core.practice.entries import KnownPiece, Note, Record, Session, Tick

COLUMNS = (
    "made", "piece", "section", "pattern", "stage", "change", "kind", "source", "tempo", "beat", "rounds",
    "seconds", "clean", "errors", "bars", "spread_ms", "spread_db", "change_ms", "held", "total", "count",
    "count_s", "session",
)  # fmt: skip
"""Of an attempt, one a line: tempo in beats a minute of `beat`, `bars` where it went wrong."""


class RecordAnswer(msgspec.Struct):
    """The whole record; `pieces` has the titles of the identities that the others name."""

    pieces: list[KnownPiece]
    sessions: list[Session]
    attempts: list[Attempt]
    ticks: list[Tick]
    notes: list[Note]


def record_answer(record: Record) -> RecordAnswer:
    """Everything as JSON fields."""
    return RecordAnswer(
        list(record.pieces), list(record.sessions), list(record.attempts), list(record.ticks),
        list(record.notes),
    )  # fmt: skip


def record_json(record: Record) -> bytes:
    """The record as an indented JSON text."""
    return msgspec.json.format(msgspec.json.encode(record_answer(record)), indent=1) + b"\n"


def attempts_csv(record: Record) -> str:
    """Every attempt as a line of CSV under a line of names; pieces by their titles."""
    titles = {piece.id: piece.title for piece in record.pieces}
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for attempt in record.attempts:
        writer.writerow([_safe(value) for value in _row(attempt, titles)])
    return out.getvalue()


def _row(attempt: Attempt, titles: dict[str, str]) -> list[object]:
    figures, title = attempt.figures, titles.get(attempt.piece, attempt.piece)
    return [
        attempt.made, title, attempt.section, attempt.pattern, attempt.stage, attempt.change, attempt.kind,
        attempt.source, attempt.tempo, attempt.beat, attempt.rounds, attempt.seconds, int(attempt.clean),
        " ".join(attempt.errors), _bars(attempt.spots), figures.spread_ms, figures.spread_db,
        figures.change_ms, figures.held, figures.total, figures.count, figures.count_s, attempt.session,
    ]  # fmt: skip


def _bars(spots: tuple[Spot, ...]) -> str:
    return "; ".join(f"{spot.section} {spot.bar}:{spot.at} {spot.error}" for spot in spots)


def _safe(value: object) -> object:
    """One line; a table would take a text that begins so for a formula."""
    if not isinstance(value, str):
        return value
    plain = "".join(sign if sign.isprintable() else " " for sign in value)
    return f"'{plain}" if plain[:1] in ("=", "+", "-", "@") else plain
