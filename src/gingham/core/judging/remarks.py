"""What is to be said of a part beside what the fit has found: judged from how it sounds and is held."""

from __future__ import annotations

from collections.abc import Iterator

from gingham.core.fitting.result import Result
from gingham.core.judging.holding import unheard_voice
from gingham.core.judging.muddy import muddy_on
from gingham.core.judging.support import support_clash
from gingham.core.reasons import Problem

_JUDGES = (muddy_on, unheard_voice, support_clash)


def remarks_on(result: Result, index: int) -> list[Problem]:
    """The remarks on the chord span of that index."""
    found = [judge(result, index) for judge in _JUDGES]
    return [problem for problem in found if problem is not None]


def all_problems(result: Result) -> list[tuple[int, Problem]]:
    """Bar number and problem: those of the fit and the remarks, in order of place."""

    def remarks() -> Iterator[tuple[int, Problem]]:
        for index, fitted in enumerate(result.spans):
            for problem in remarks_on(result, index):
                yield fitted.span.bar, problem

    return sorted([*result.problems(), *remarks()], key=lambda pair: (pair[0], pair[1].at))
