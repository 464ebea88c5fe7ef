"""Things kept by a key, the ones used last."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

T = TypeVar("T")


class Recent(Generic[T]):
    """Makes a thing for each key, and keeps those used last; from any thread."""

    def __init__(self, made: Callable[[], T], most: int = 16) -> None:
        self._made = made
        self._most = most
        self._kept: OrderedDict[Hashable, T] = OrderedDict()

    def of(self, *key: Hashable) -> T:
        """The thing of a key."""
        found = self._kept.pop(key, None)
        found = self._made() if found is None else found
        self._kept[key] = found
        while len(self._kept) > self._most:
            self._kept.popitem(last=False)
        return found
