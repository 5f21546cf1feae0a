"""A sequence that is made while it is looked at: of a long piece a window shows twenty bars."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Generic, TypeVar, overload

T = TypeVar("T")
_NOT_YET = object()


class Later(Sequence[T], Generic[T]):
    """`count` items, each made by `make(index)` when it is first asked for, and kept.

    It compares and hashes as the tuple of its items. Two threads that ask for one item at once may both make
    it; `make` has to give equal values.
    """

    def __init__(self, count: int, make: Callable[[int], T]) -> None:
        self._items: list[object] = [_NOT_YET] * count
        self._make = make

    def __len__(self) -> int:
        return len(self._items)

    @overload
    def __getitem__(self, index: int) -> T: ...
    @overload
    def __getitem__(self, index: slice) -> tuple[T, ...]: ...
    def __getitem__(self, index: int | slice) -> T | tuple[T, ...]:
        if isinstance(index, slice):
            return tuple(self[i] for i in range(len(self._items))[index])
        item = self._items[index]
        if item is _NOT_YET:
            item = self._items[index] = self._make(index if index >= 0 else index + len(self._items))
        return item  # type: ignore[return-value]  # not the mark, so an item

    def __iter__(self) -> Iterator[T]:
        items, make = self._items, self._make
        for index, item in enumerate(items):
            if item is _NOT_YET:
                item = items[index] = make(index)
            yield item  # type: ignore[misc]  # as above

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, tuple | Later):
            return NotImplemented
        return self is other or (len(self) == len(other) and tuple(self) == tuple(other))

    def __hash__(self) -> int:
        return hash(tuple(self))

    def __repr__(self) -> str:
        return repr(tuple(self))
