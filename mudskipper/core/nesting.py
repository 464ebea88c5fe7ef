"""Scenes that show others: none in a circle, none too deep, and not more layers by way of them than can be painted."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from .assets import Assets
from .errors import Refused
from .scene import Scene

MOST_NESTED = 12
"""How many scenes may lie in each other below one."""
MOST_DRAWN = 5_000
"""How many layers of other scenes a scene may draw: each as often as it is shown."""


@dataclass(frozen=True)
class Shows:
    """What a scene is to those that show it: its name, how many layers it has, and the scenes that it shows, each as
    often as a layer shows it."""

    name: str
    layers: int
    scenes: tuple[str, ...]

    @classmethod
    def of(cls, scene: Scene) -> Shows:
        """Of a scene."""
        return cls(scene.name, len(scene.layers), tuple(one for layer in scene.layers for one in layer.content.scenes))

    def is_more_than(self, other: Shows) -> bool:
        """Whether it has more layers, or shows a scene more often, than another."""
        return self.layers > other.layers or not Counter(self.scenes) <= Counter(other.scenes)


def refuse_nesting(scene: Scene, assets: Assets) -> None:
    """Refuse a scene that lies in itself, or shows too much, in words."""
    found = {scene.id: Shows.of(scene)}
    below = list(scene.scenes)
    while below:
        name = below.pop()
        inner = assets.scenes.get(name) if name not in found else None
        if inner is not None:
            found[name] = Shows.of(inner)
            below += inner.scenes
    _refuse_circle(scene.id, found)
    _refuse_excess([scene.id], found)


def refuse_nesting_around(changed: str, found: Mapping[str, Shows]) -> None:
    """Refuse, in words, what a changed scene makes of itself and of those that show it, by way of others too; `found`
    are all scenes of its project."""
    _refuse_circle(changed, found)
    above = {changed}
    while fresh := {name for name, one in found.items() if name not in above and not above.isdisjoint(one.scenes)}:
        above |= fresh
    _refuse_excess([changed, *sorted(above - {changed})], found)


def _refuse_circle(start: str, found: Mapping[str, Shows]) -> None:
    seen: set[str] = set()

    def look(name: str, line: tuple[str, ...]) -> None:
        for inner in sorted(set(found[name].scenes)):
            if inner == start:
                raise Refused(
                    f"{in_a_circle([found[one].name for one in line])}.",
                    where="content.asset", mend="Choose another scene.",
                )  # fmt: skip
            if inner in found and inner not in seen:
                seen.add(inner)
                look(inner, (*line, inner))

    look(start, (start,))


def _refuse_excess(names: Sequence[str], found: Mapping[str, Shows]) -> None:
    sizes: dict[str, tuple[int, int]] = {}

    def size(name: str, open_: frozenset[str] = frozenset()) -> tuple[int, int]:
        """How many scenes lie in each other below one, and how many layers of them are drawn."""
        if name not in sizes:
            inner = [one for one in found[name].scenes if one in found and one not in open_]
            each = {one: size(one, open_ | {name}) for one in set(inner)}
            deep = 1 + max((each[one][0] for one in inner), default=-1)
            sizes[name] = deep, sum(found[one].layers + each[one][1] for one in inner)
        return sizes[name]

    for name in names:
        deep, drawn = size(name)
        if deep > MOST_NESTED:
            raise Refused(
                f"Scenes lie in each other at most {MOST_NESTED} deep, and below '{found[name].name}' they would lie "
                f"{deep} deep.",
                where="content.asset", mend="Choose another scene.",
            )  # fmt: skip
        if drawn > MOST_DRAWN:
            raise Refused(
                f"'{found[name].name}' would draw {drawn:,} layers of the scenes in it, each as often as it is shown, "
                f"and at most {MOST_DRAWN:,} are drawn.",
                where="content.asset", mend="Show a scene less often, or keep fewer layers in it.",
            )  # fmt: skip


def in_a_circle(names: Sequence[str]) -> str:
    """A sentence about scenes that show each other in a circle, without its full stop.

    >>> in_a_circle(["Opener", "Strip"])
    "Scenes would show each other in a circle: 'Opener' shows 'Strip', which shows 'Opener'"
    """
    quoted = [f"'{name}'" for name in (*names, names[0])]
    if len(names) == 1:
        return f"The scene {quoted[0]} would show itself"
    return f"Scenes would show each other in a circle: {quoted[0]} shows {', which shows '.join(quoted[1:])}"
