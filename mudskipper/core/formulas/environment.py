"""What a formula may ask for while it is evaluated."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Protocol

from ..geometry.bezier import Floats
from .problem import Faulty, FormulaProblem
from .texts import Texts


class Reference:
    """A property at this moment, or at another one; or a thing with parts, such as a box."""

    has_parts = False

    def now(self) -> Floats | Texts:
        """Its value at the frames at which the formula is evaluated."""
        raise NotImplementedError

    def at(self, *given: Floats) -> Floats | Texts:
        """Its value at other moments, in seconds of the layer whose formula this is; of a box the point at shares."""
        raise NotImplementedError

    def part(self, name: str) -> Any:
        """One of its parts."""
        raise NotImplementedError

    def placed(self, way: str, point: Floats) -> Floats:
        """Of a layer: a point of it in the scene (`in_scene`), or one of the scene in its pixels (`in_layer`)."""
        raise Faulty(FormulaProblem(sentence=f'Only a layer has {way}(…), as in scene["Name"].{way}((0, 0)).'))


class Environment(Protocol):
    """Where a formula is evaluated: a layer's property at some frames. `lines` are those that give names, `done` is how
    many of them have, and `names` are what they gave."""

    lines: Sequence[tuple[str, Run]]
    done: int
    names: dict[str, Any]
    seconds: Floats
    """The moments (n,) in seconds of the layer."""
    local: Floats
    """The same in frames of the layer."""

    @property
    def seed(self) -> int:
        """What its random numbers start from."""

    @property
    def is_point(self) -> bool:
        """Whether its value is a point."""

    def value(self, name: str) -> Any:
        """t, frame, fps, base, index, count, unit, units or progress."""

    def thing(self, name: str) -> Reference:
        """scene, box, unit_box or beat."""

    def own(self, name: str) -> Reference:
        """A property of the layer itself."""

    def layer(self, name: str, put: Callable[[str], str]) -> Reference:
        """Another layer by its name; `put` gives the formula with another name in its place."""

    def placed(self, way: str, point: Floats) -> Floats:
        """A point of the layer in the scene (`in_scene`), one of the scene in the layer's pixels (`in_layer`), or the
        angle to it in degrees (`angle_to`)."""

    def at_seconds(self, seconds: Floats, value: Run) -> Any:
        """What a part of the formula gives at other moments (n,), in seconds of the layer."""


Run = Callable[[Environment], Any]
"""A part of a formula, ready to be evaluated."""
