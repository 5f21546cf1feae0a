"""A session while it runs: which part, how long still; skipped, swapped, made longer; offers when stuck."""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from gingham.core.practice.attempt import Attempt
from gingham.core.practice.ladder import FAILURES, Ladder
from gingham.core.practice.plan import Planned
from gingham.core.practice.session import Item, pair_of
from gingham.core.practice.stages import Stage
from gingham.core.reasons import Reason
from gingham.core.values import replace

EXTENSION = 2
"""Minutes by which a part is made longer."""


class Led(msgspec.Struct, frozen=True):
    """The parts, which one is on, how many seconds of it have passed; `offer` is what is proposed instead."""

    items: tuple[Item, ...]
    index: int = 0
    passed_s: float = 0.0
    offer: Item | None = None

    @property
    def item(self) -> Item | None:
        """The part that is on; None at the end."""
        return self.items[self.index] if self.index < len(self.items) else None

    @property
    def left_s(self) -> float:
        """Seconds left of the part; 0 when its time is over."""
        return max(0.0, 60.0 * self.item.minutes - self.passed_s) if self.item is not None else 0.0

    @property
    def over(self) -> bool:
        """Whether the session has come to its end."""
        return self.item is None


def passed(led: Led, seconds: float) -> Led:
    """Time goes by."""
    return replace(led, passed_s=led.passed_s + max(0.0, seconds))


def onward(led: Led) -> Led:
    """What is offered, else the next part."""
    if led.offer is not None:
        return taken(led)
    return replace(led, index=min(led.index + 1, len(led.items)), passed_s=0.0, offer=None)


def taken(led: Led) -> Led:
    """The offer takes the rest of the part's time; then the part itself comes once more, shorter."""
    now, offer = led.item, led.offer
    if now is None or offer is None:
        return led
    rest = max(1, round(led.left_s / 60.0))
    first = max(1, rest - rest // 2)
    items = list(led.items)
    items[led.index : led.index + 1] = [
        replace(offer, minutes=first), replace(now, minutes=max(1, rest - first)),
    ]  # fmt: skip
    return Led(tuple(items), led.index)


def refused(led: Led) -> Led:
    """The offer is left."""
    return replace(led, offer=None)


def extended(led: Led) -> Led:
    """The part takes two minutes more."""
    if led.item is None:
        return led
    items = list(led.items)
    items[led.index] = replace(led.item, minutes=led.item.minutes + EXTENSION)
    return replace(led, items=tuple(items))


def swapped(led: Led, planned: Planned) -> Led:
    """The part is about another stage of its group: the next of its kind that is in no part yet."""
    now = led.item
    stage = planned.stage(now.stage) if now is not None else None
    if now is None or stage is None:
        return led
    own = [s for s in planned.stages if s.group == stage.group]
    behind = own[own.index(stage) + 1 :] + own[: own.index(stage)]
    busy = {item.stage for item in led.items}
    free = [s for s in behind if s.id not in busy]
    other = next((s for s in free if s.kind == stage.kind), free[0] if free else None)
    if other is None:
        return led
    items = list(led.items)
    items[led.index] = Item(now.kind, other.id, now.minutes, Reason.of("plan-swapped"), other.tempo)
    return replace(led, items=tuple(items), offer=None)


def after_attempt(led: Led, attempt: Attempt, standing: Ladder, planned: Planned) -> Led:
    """An offer where an attempt has shown that it is needed: what isolates the trouble, or to go on."""
    stage = planned.stage(attempt.stage)
    now = led.item
    if now is None or stage is None or stage.id != now.stage:
        return led
    stuck = not attempt.clean and (standing.why.code == "ladder-back" or standing.failures >= FAILURES)
    if stuck:
        other = isolating(stage, planned, attempt)
        if other is not None:
            why = Reason.of("plan-stuck", section=_section(other, planned))
            return replace(led, offer=Item("change" if other.group == "change" else "new", other.id, 1, why))
    if attempt.clean and standing.reached and now.kind != "run":
        return replace(led, offer=None, passed_s=max(led.passed_s, 60.0 * now.minutes))
    return led


def _section(stage: Stage, planned: Planned) -> str:
    return planned.piece.sections[stage.section].name


def isolating(stage: Stage, planned: Planned, attempt: Attempt | None = None) -> Stage | None:
    """The stage that isolates what goes wrong in this one; None where nothing smaller is left."""
    stages = [s for s in planned.stages if s.id != stage.id]
    pair = pair_of(stage)
    if stage.kind == "steps":
        return _first(stages, lambda s: s.kind == "strum")
    if pair is not None:
        steps = _first(stages, lambda s: s.kind == "steps" and pair_of(s) == pair)
        return steps or _first(stages, lambda s: s.kind == "strum")
    if stage.group in ("whole", "voice"):
        late = _worst_change(attempt)
        change = _first(stages, lambda s: s.reason.code == "stage-change" and pair_of(s) == late)
        return change or _first(stages, lambda s: s.reason.code == "stage-change") or _layer(stages, stage)
    return _layer(stages, stage, before=planned.stages)


def _layer(stages: list[Stage], stage: Stage, before: tuple[Stage, ...] = ()) -> Stage | None:
    """The layer of the hand before this one."""
    hand = [s for s in (before or stages) if s.group == "hand" and s.kind in ("loop", "free")]
    if stage in hand:
        index = hand.index(stage)
        return hand[index - 1] if index else None
    return hand[-1] if hand else None


def _worst_change(attempt: Attempt | None) -> tuple[str, str] | None:
    """The change that was latest in a take."""
    late = [spot for spot in (attempt.spots if attempt is not None else ()) if spot.change]
    if not late:
        return None
    one, _, other = max(late, key=lambda spot: spot.ms).change.partition(" > ")
    return one, other


def _first(stages: list[Stage], wanted: Callable[[Stage], bool]) -> Stage | None:
    return next((stage for stage in stages if wanted(stage)), None)
