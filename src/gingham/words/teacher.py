"""What the record shows of a piece, for a teacher who was not there: by section and by bar."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from datetime import date

import msgspec

from gingham.core.practice.attempt import Attempt
from gingham.core.practice.history import history
from gingham.core.practice.plan import Planned
from gingham.core.practice.review import clean_changes, current, rounds_of, tempi
from gingham.core.practice.session import change_name, pair_of
from gingham.core.practice.stages import Stage
from gingham.language import tr
from gingham.words.counts import counted
from gingham.words.names import signs
from gingham.words.practice import ERROR_NAMES, SOURCE_NAMES, stage_name

_MOST_STAGES, _LAST = 8, 40


class MeasuredSection(msgspec.Struct, frozen=True):
    """A section: sentences, and a few words for each bar that went wrong."""

    name: str
    lines: tuple[str, ...]
    bars: tuple[tuple[int, str], ...]


def measured(planned: Planned, attempts: Sequence[Attempt], today: date) -> tuple[MeasuredSection, ...]:
    """Every section that has been practised, in the order of the piece."""
    out, attempts = [], history(attempts)
    for index, section in enumerate(planned.piece.sections):
        stages = [stage for stage in planned.stages if stage.section == index]
        lines = [*_tempi(stages, attempts), *_changes(stages, attempts), *_where_from(stages, attempts)]
        bars = _bars(section.name, attempts)
        if lines or bars:
            out.append(MeasuredSection(section.name, tuple(lines), bars))
    return tuple(out)


def _tempi(stages: Sequence[Stage], attempts: Sequence[Attempt]) -> list[str]:
    """`Clean up to: thumb alone on G 72 of 72, …`."""
    reached = []
    for stage in stages:
        days = tempi(current(stage, attempts))
        if days:
            reached.append(f"{stage_name(stage)} {max(day.tempo for day in days)}")
    if not reached:
        return []
    return [
        tr(
            "Clean up to (goal {goal} beats a minute): {reached}.",
            goal=stages[0].goal,
            reached="; ".join(reached[:_MOST_STAGES]),
        )
    ]


def _changes(stages: Sequence[Stage], attempts: Sequence[Attempt]) -> list[str]:
    out = []
    for stage in stages:
        pair = pair_of(stage)
        if pair is None or stage.kind != "loop":
            continue
        rounds = rounds_of(current(stage, attempts))
        counts = clean_changes(a for a in attempts if a.change == change_name(stage))
        if not rounds and not counts:
            continue
        clean = sum(attempt.clean for attempt in rounds)
        late = max((a.figures.change_ms for a in rounds if a.source == "heard"), default=0.0)
        parts = (
            [tr("{clean} of {how_many} clean", clean=clean, how_many=counted(len(rounds), "round"))]
            if rounds
            else []
        )
        parts += [tr("up to {late:.0f} ms late", late=late)] if late else []
        parts += [tr("{counts:.0f} clean changes a minute", counts=counts[-1][1])] if counts else []
        out.append(
            tr(
                "{before} to {after}: {parts}.",
                before=signs(pair[0]),
                after=signs(pair[1]),
                parts=", ".join(parts),
            )
        )
    return out


def _where_from(stages: Sequence[Stage], attempts: Sequence[Attempt]) -> list[str]:
    """How it is known: marked by the player, tapped, or heard."""
    ids = {stage.id for stage in stages}
    sources = Counter(attempt.source for attempt in attempts if attempt.stage in ids)
    if not sources:
        return []
    days = len({attempt.day for attempt in attempts if attempt.stage in ids})
    said = ", ".join(f"{count} {SOURCE_NAMES[source]}" for source, count in sources.most_common())
    return [tr("From {how_many} of practice: {said}.", how_many=counted(days, "day"), said=said)]


def _bars(section: str, attempts: Sequence[Attempt]) -> tuple[tuple[int, str], ...]:
    """The kind of error that came most in each bar of the last attempts, and how often."""
    recent = [a for a in attempts if any(spot.section == section for spot in a.spots)][-_LAST:]
    found: dict[int, Counter[str]] = {}
    for attempt in recent:
        for spot in attempt.spots:
            if spot.section == section:
                found.setdefault(spot.bar, Counter())[spot.error] += 1
    return tuple((bar, _most(kinds)) for bar, kinds in sorted(found.items()))


def _most(kinds: Counter[str]) -> str:
    kind, count = kinds.most_common(1)[0]
    return f"{ERROR_NAMES[kind]} ×{count}"
