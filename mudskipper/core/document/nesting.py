"""Scenes that show others: none in a circle, none too deep, and not more layers by way of them than can be painted."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from itertools import accumulate

from ..contents.assets import Assets
from ..ground.errors import Refused
from .scene import Scene

MOST_NESTED = 12
"""How many scenes may lie in each other below one."""
MOST_DRAWN = 5_000
"""How many layers of other scenes a scene may draw at one frame: each as often as it is shown."""


@dataclass(frozen=True)
class Shows:
    """What a scene is to those that show it: its name, and of each layer the first frame, the one after the last, and
    the scene that it shows, if any."""

    name: str
    layers: tuple[tuple[int, int, str], ...]

    @classmethod
    def of(cls, scene: Scene) -> Shows:
        """Of a scene; found once."""
        known: Shows | None = scene.__dict__.get("_shows")
        if known is None:
            spans = ((one.span.start, one.span.end, (*one.content.scenes, "")[0]) for one in scene.layers)
            known = scene.__dict__["_shows"] = cls(scene.name, tuple(spans))
        return known

    @property
    def scenes(self) -> frozenset[str]:
        """The scenes that it shows."""
        return frozenset(shown for _, _, shown in self.layers if shown)

    def most(self, weight: Callable[[str], int]) -> int:
        """The most that is drawn at one frame, where a layer weighs what `weight` says of what it shows."""
        changes: Counter[int] = Counter()
        for start, end, shown in self.layers:
            changes[start] += weight(shown)
            changes[end] -= weight(shown)
        return max(accumulate(change for _, change in sorted(changes.items())), default=0)

    def may_be_more_than(self, other: Shows) -> bool:
        """Whether it might draw more, or show another scene, than another of which the scenes within are the same."""
        if self.layers == other.layers:
            return False
        showing, before = ([one for one in of.layers if one[2]] for of in (self, other))

        def plain(_: str) -> int:
            return 1

        return (bool(showing) and showing != before) or self.most(plain) > other.most(plain)


def refuse_nesting(scene: Scene, assets: Assets) -> None:
    """Refuse a scene that lies in itself, or shows too much at a time, in words."""
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
        for inner in sorted(found[name].scenes):
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
    sizes: dict[str, tuple[int, int, int]] = {}

    def size(name: str, open_: frozenset[str] = frozenset()) -> tuple[int, int, int]:
        """How many scenes lie in each other below one; how many layers of them are drawn at one frame at most, and with
        its own."""
        if name not in sizes:
            each = {one: size(one, open_ | {name}) for one in found[name].scenes if one in found and one not in open_}
            deep = 1 + max((depth for depth, _, _ in each.values()), default=-1)
            whole = {one: all_of_it for one, (_, _, all_of_it) in each.items()}
            inner = found[name].most(lambda shown: whole.get(shown, 0)) if whole else 0
            sizes[name] = deep, inner, found[name].most(lambda shown: 1 + whole.get(shown, 0))
        return sizes[name]

    for name in names:
        deep, drawn, _ = size(name)
        if deep > MOST_NESTED:
            raise Refused(
                f"Scenes lie in each other at most {MOST_NESTED} deep, and below '{found[name].name}' they would lie "
                f"{deep} deep.",
                where="content.asset", mend="Choose another scene.",
            )  # fmt: skip
        if drawn > MOST_DRAWN:
            raise Refused(
                f"'{found[name].name}' would draw {drawn:,} layers of the scenes in it at one frame, each as often as "
                f"it is shown, and at most {MOST_DRAWN:,} are drawn.",
                where="content.asset", mend="Show a scene less often at a time, or keep fewer layers in it.",
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
