"""What else the record keeps: sessions, what was tuned and how shapes rang, notes of the player."""

from __future__ import annotations

from typing import Literal

import msgspec

from gingham.core.practice.attempt import Attempt


class Session(msgspec.Struct, frozen=True, omit_defaults=True):
    """One sitting: when it began and ended (ISO), minutes asked for, seconds played, beats of barre.

    `ended_by` says how: `done`, `left`, or `hurt` where something hurt; empty while it lasts (or where the
    program ended before it did).
    """

    began: str
    minutes: int = 0
    ended: str = ""
    played_s: float = 0.0
    barre_s: float = 0.0
    ended_by: Literal["", "done", "left", "hurt"] = ""
    id: int = 0


class Tick(msgspec.Struct, frozen=True, omit_defaults=True):
    """Something that was checked: when (ISO, local time), what, and what came of it string by string.

    `found` is cents for `tuned`, a state for `rang`; `shape` is the one that rang, with its symbol.
    """

    made: str
    kind: Literal["tuned", "rang"]
    piece: str
    found: dict[str, float | str]
    symbol: str = ""
    shape: str = ""


class Note(msgspec.Struct, frozen=True, omit_defaults=True):
    """Words of the player: `hand` for what the hand felt, `hurt` for what ended a session, `well` again."""

    made: str
    kind: Literal["note", "hand", "hurt", "well"]
    text: str
    piece: str = ""


class KnownPiece(msgspec.Struct, frozen=True):
    """A piece in the record: its identity, its title and its file when it was last seen."""

    id: str
    title: str
    path: str


class Record(msgspec.Struct, frozen=True):
    """Everything that is kept, each in order of writing."""

    pieces: tuple[KnownPiece, ...]
    sessions: tuple[Session, ...]
    attempts: tuple[Attempt, ...]
    ticks: tuple[Tick, ...]
    notes: tuple[Note, ...]


def resting(notes: tuple[Note, ...] | list[Note]) -> bool:
    """Whether the hand rests: something hurt, and the player has not said that it is well again."""
    state = [note.kind for note in notes if note.kind in ("hurt", "well")]
    return bool(state) and state[-1] == "hurt"
