"""`gingham practise` prints stages and plan of a piece; `gingham log` the record of practising."""

from __future__ import annotations

import argparse
from datetime import date, datetime
from pathlib import Path

import msgspec

from gingham.arguments import OneLineParser
from gingham.cli.command import Answer, Command, read, table
from gingham.core.errors import InputError
from gingham.core.formats.piece_file import load
from gingham.core.numbers import whole
from gingham.core.practice.attempt import Attempt
from gingham.core.practice.entries import Record, resting
from gingham.core.practice.identity import identity_of_file
from gingham.core.practice.log import Log
from gingham.core.practice.orders import ORDERS, Learning
from gingham.core.practice.plan import Planned, plan_piece
from gingham.core.practice.record_text import RecordAnswer, attempts_csv, record_answer
from gingham.core.practice.session import (
    LONGEST,
    SHORTEST,
    Hand,
    Item,
    cleared,
    ladders,
    plan_session,
)
from gingham.folders import home
from gingham.words.practice import ITEM_NAMES, item_text, plan_text, stage_name, stage_why

_USUAL = "20"


class StageAnswer(msgspec.Struct):
    """A stage: tempi in counted beats a minute, `floor` and `goal` the ends of its ladder."""

    id: str
    section: str
    kind: str
    text: str
    why: str
    asks: str
    tempo: int
    floor: int
    goal: int
    best: int
    done: bool


class PartAnswer(msgspec.Struct):
    """A part of the session: `stage` is empty for a rest."""

    kind: str
    minutes: int
    stage: str
    tempo: int
    text: str
    why: str


class PractiseAnswer(msgspec.Struct):
    """`gingham practise`: the stages in the order of learning, the plan of a session."""

    title: str
    order: str
    stages: list[StageAnswer]
    minutes: int
    plan: list[PartAnswer]


def record_path() -> Path:
    """Where the record of this user is."""
    return home("data") / "gingham" / "practice.sqlite"


def _record(since: str = "") -> Record:
    """The record as it is; nothing where there is none yet."""
    path = record_path()
    if not path.exists():
        return Record((), (), (), (), ())
    log = Log(path)
    try:
        return log.read(since)
    finally:
        log.close()


def _define_practise(parser: OneLineParser) -> None:
    parser.add_argument("piece", type=Path)
    parser.add_argument("--minutes", default=_USUAL, metavar="N", help=f"{SHORTEST} to {LONGEST}")
    parser.add_argument("--order", default=ORDERS[0], choices=ORDERS, help="the order of learning")


def _practise(options: argparse.Namespace) -> Answer:
    minutes = read("--minutes", options.minutes, lambda text: whole(text, SHORTEST, LONGEST))
    file = load(options.piece)
    piece = file.piece
    planned = plan_piece(piece, Learning(options.order))
    record, today = _record(), datetime.now().astimezone().date()
    identity = file.identity or identity_of_file(options.piece)
    own = [attempt for attempt in record.attempts if attempt.piece == identity]
    items = plan_session(minutes, planned, own, today, Hand(rests=resting(record.notes)))
    answer = PractiseAnswer(
        piece.title, options.order, _stages(planned, own, today), minutes, [_part(i, planned) for i in items]
    )
    return answer, _practise_text(answer)


def _stages(planned: Planned, own: list[Attempt], today: date) -> list[StageAnswer]:
    standing, out = ladders(planned, own, today), []
    for stage in planned.stages:
        why, asks = stage_why(stage)
        now, section = standing[stage.id], planned.piece.sections[stage.section].name
        out.append(
            StageAnswer(
                stage.id, section, stage.kind, stage_name(stage), why, asks, now.tempo, stage.floor,
                stage.goal, now.best, cleared(stage, now, own),
            )
        )  # fmt: skip
    return out


def _part(item: Item, planned: Planned) -> PartAnswer:
    text = item_text(item, planned.stage(item.stage))
    return PartAnswer(item.kind, item.minutes, item.stage, item.tempo, text, plan_text(item.why))


def _practise_text(answer: PractiseAnswer) -> str:
    stages = [[s.section, s.text, str(s.tempo), str(s.goal), "done" if s.done else ""] for s in answer.stages]
    parts = [[f"{p.minutes} min", ITEM_NAMES[p.kind], p.text, p.why] for p in answer.plan]
    plan = (
        table(parts, ["", "today", "", ""]) if parts else "No plan: the hand rests, or there are no chords."
    )
    return f"{table(stages, ['section', 'stage', 'tempo', 'goal', ''])}\n\n{plan}"


def _define_log(parser: OneLineParser) -> None:
    parser.add_argument("--since", default="", metavar="DATE", help="from a day on, such as 2026-11-30")
    parser.add_argument("--csv", action="store_true", help="every attempt as a line of CSV")


def _log(options: argparse.Namespace) -> Answer:
    since = read("--since", options.since, _day) if options.since else ""
    record = _record(since)
    answer: RecordAnswer = record_answer(record)
    return answer, attempts_csv(record).rstrip("\n") if options.csv else _log_text(record)


def _day(text: str) -> str:
    parts = text.split("-")
    if [len(part) for part in parts] != [4, 2, 2]:
        raise InputError("date", end=len(text), text=text)
    year, month, day = (whole(part, 0, 9999) for part in parts)
    try:
        return date(year, month, day).isoformat()
    except ValueError as error:
        raise InputError("date", end=len(text), text=text) from error


def _log_text(record: Record) -> str:
    titles = {piece.id: piece.title for piece in record.pieces}
    rows = [
        [
            a.made[:16].replace("T", " "), titles.get(a.piece, a.piece), a.stage, str(a.tempo), a.kind,
            a.source, "clean" if a.clean else " ".join(a.errors) or "not clean",
        ]
        for a in record.attempts
    ]  # fmt: skip
    if not rows:
        return "Nothing is kept yet."
    return table(rows, ["when", "piece", "stage", "tempo", "kind", "source", ""])


PRACTISE = Command(_define_practise, _practise)
LOG = Command(_define_log, _log)
