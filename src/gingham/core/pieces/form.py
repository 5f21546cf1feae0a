"""The form: in which order the sections are played, how often, and how the piece ends."""

from __future__ import annotations

import msgspec

from gingham.core.errors import EditError
from gingham.core.numbers import is_whole

ENDINGS = ("stop", "ring", "pinch", "roll", "brush", "fade", "loop")
MOST_TIMES = 99
MOST_TURNS = 500


class Turn(msgspec.Struct, frozen=True, gc=False):
    """One section, by its name, played `times` times in a row."""

    section: str
    times: int = 1


class Form(msgspec.Struct, frozen=True, gc=False):
    """An order of sections with an ending, one of ENDINGS.

    Without `turns` every section is played in the order in which it stands: as often as it says itself in a
    performance, once in the practice form.
    """

    turns: tuple[Turn, ...] = ()
    ending: str = "stop"


PRACTICE = Form(ending="loop")
"""The usual practice form: every section once, and round again."""


def check_form(form: Form, sections: frozenset[str]) -> Form:
    """`form` if every turn names one of `sections` and can be counted; EditError otherwise."""
    if form.ending not in ENDINGS:
        raise EditError("ending", text=form.ending, known=ENDINGS)
    if len(form.turns) > MOST_TURNS:
        raise EditError("turns-many", given=len(form.turns), most=MOST_TURNS)
    for turn in form.turns:
        if turn.section not in sections:
            raise EditError("no-section", name=turn.section)
        if not 1 <= turn.times <= MOST_TIMES:
            raise EditError("times", given=turn.times, most=MOST_TIMES)
    return form


def renamed(form: Form, old: str, new: str) -> Form:
    """`form` with a section under another name."""
    turns = tuple(Turn(new, t.times) if t.section == old else t for t in form.turns)
    return Form(turns, form.ending)


_OF, _AS = " · ", " = "


def stage_id(section: str, stage: str) -> str:
    """What a stage of practice is called where it is marked as done: its section, then what it is."""
    return f"{section}{_OF}{stage}"


def done_entry(stage: str, mark: str, tempo: int) -> str:
    """How a stage is marked as done: what exactly it asked for then (`mark`), and up to which tempo."""
    return f"{stage}{_AS}{mark} {tempo}"


def is_done(done: tuple[str, ...], stage: str, mark: str, goal: int) -> bool:
    """Whether a stage is marked as done as it is now: the same plucks, up to the goal at least."""
    begin = f"{stage}{_AS}{mark} "
    tempi = [entry.removeprefix(begin) for entry in done if entry.startswith(begin)]
    return any(is_whole(tempo) and int(tempo) >= goal for tempo in tempi)


def was_done(done: tuple[str, ...], stage: str) -> bool:
    """Whether a stage was marked as done at some time, perhaps when it was another one."""
    return any(entry == stage or entry.startswith(f"{stage}{_AS}") for entry in done)


def not_done(done: tuple[str, ...], stage: str) -> tuple[str, ...]:
    """The marks without those of one stage."""
    return tuple(entry for entry in done if not was_done((entry,), stage))


def done_renamed(done: tuple[str, ...], old: str, new: str) -> tuple[str, ...]:
    """Stages that are done, a section of theirs under another name."""
    begin = f"{old}{_OF}"
    return tuple(stage_id(new, d.removeprefix(begin)) if d.startswith(begin) else d for d in done)


def without(form: Form, section: str) -> Form:
    """`form` without the turns of one section."""
    return Form(tuple(t for t in form.turns if t.section != section), form.ending)


def parse_turns(text: str) -> tuple[Turn, ...]:
    """Read an order as it is typed: `Verse x2, Refrain, Verse`; empty for the order in which they stand.

    Raises
    ------
    EditError
        If a number of times cannot be read.
    """
    turns = []
    for part in text.split(","):
        name, times = part.strip(), 1
        head, _, tail = name.replace("×", "x").rpartition(" x")
        if head and is_whole(tail.strip()):
            name, times = head.strip(), int(tail)
        if name:
            turns.append(Turn(name, times))
    return tuple(turns)


def print_turns(turns: tuple[Turn, ...]) -> str:
    """The order as it is typed."""
    return ", ".join(f"{t.section} x{t.times}" if t.times > 1 else t.section for t in turns)
