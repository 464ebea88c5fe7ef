"""Sheets that effects have run on, kept while nothing that they are made of changes."""

from __future__ import annotations

from dataclasses import dataclass

import skia

from ..core.draw.operations import Column, Group, columns_in, sources_in

MOST_BYTES = 160_000_000
MOST_GROUPS = 64


@dataclass
class _Kept:
    group: Group
    moving: list[Column]
    state: tuple[object, ...]
    image: skia.Image | None = None


class KeptSheets:
    """Of the groups of draw lists; those that were used longest ago go first."""

    def __init__(self) -> None:
        self._kept: dict[int, _Kept] = {}
        self._bytes = 0

    def find(self, group: Group, index: int, place: tuple[object, ...]) -> skia.Image | None:
        """What effects made of a group, where all that it is made of is as it was; `place` is where it is painted."""
        kept = self._of(group)
        state = self._state(kept, index, place)
        return kept.image if kept.image is not None and kept.state == state else None

    def keep(self, group: Group, index: int, place: tuple[object, ...], image: skia.Image) -> None:
        """Keep what effects made of a group."""
        kept = self._of(group)
        self._let_go(kept)
        if any(one.frame is not None for one in sources_in(group)):
            return  # clips come as they are decoded
        kept.image, kept.state = image, self._state(kept, index, place)
        self._bytes += image.width() * image.height() * 4
        for one in list(self._kept.values()):
            if self._bytes <= MOST_BYTES:
                break
            self._let_go(one)

    def _of(self, group: Group) -> _Kept:
        kept = self._kept.pop(id(group), None)
        if kept is None or kept.group is not group:
            kept = _Kept(group, [one for one in columns_in(group) if len(one) > 1], ())
        self._kept[id(group)] = kept
        while len(self._kept) > MOST_GROUPS:
            self._let_go(self._kept.pop(next(iter(self._kept))))
        return kept

    @staticmethod
    def _state(kept: _Kept, index: int, place: tuple[object, ...]) -> tuple[object, ...]:
        return (*place, b"".join(column[index].tobytes() for column in kept.moving))

    def _let_go(self, kept: _Kept) -> None:
        if kept.image is not None:
            self._bytes -= kept.image.width() * kept.image.height() * 4
        kept.image = None
