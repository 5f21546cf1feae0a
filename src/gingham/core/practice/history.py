"""The attempts at a piece, found by their stage: every page asks for them stage by stage."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import overload

from gingham.core.practice.attempt import Attempt


class History(Sequence[Attempt]):
    """Attempts in order of writing, oldest first."""

    def __init__(self, attempts: Iterable[Attempt]) -> None:
        self._all = list(attempts)
        self._by_stage: dict[str, list[tuple[int, Attempt]]] = {}
        for index, attempt in enumerate(self._all):
            self._by_stage.setdefault(attempt.stage, []).append((index, attempt))

    def add(self, attempt: Attempt) -> None:
        """One more, the newest."""
        self._by_stage.setdefault(attempt.stage, []).append((len(self._all), attempt))
        self._all.append(attempt)

    def numbered(self, stage: str) -> list[tuple[int, Attempt]]:
        """The attempts at a stage, each with its place among all."""
        return self._by_stage.get(stage, [])

    def of(self, stage: str) -> list[Attempt]:
        """The attempts at a stage."""
        return [attempt for _, attempt in self.numbered(stage)]

    @overload
    def __getitem__(self, index: int) -> Attempt: ...

    @overload
    def __getitem__(self, index: slice) -> Sequence[Attempt]: ...

    def __getitem__(self, index: int | slice) -> Attempt | Sequence[Attempt]:
        return self._all[index]

    def __len__(self) -> int:
        return len(self._all)


def history(attempts: Iterable[Attempt]) -> History:
    """The attempts, sorted by stage unless they are."""
    return attempts if isinstance(attempts, History) else History(attempts)
