"""What every shape is: an item with a transform of its own, a place, a fill and a stroke, and an outline."""

from __future__ import annotations

from abc import abstractmethod
from functools import cached_property
from itertools import pairwise
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import AfterValidator, Field

from ..draw.pen import Pen
from ..effects import Effects
from ..geometry.bezier import Floats
from ..geometry.values import Values, within
from ..ground.base_model import MOST_NAME, Flag, Model
from ..ground.numbered import numbered
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack, PairTrack, PathTrack
from ..tracks.motion import Anchor, AnchorTrack, Opacity, Position, Rotation, Scale
from ..tracks.walk import evaluated, tracks_in
from .gradient import Paint, ink_of
from .repeat import Repeat
from .stroke import Stroke

ItemName = Annotated[str, Field(strict=True, max_length=MOST_NAME)]


class ItemTransform(Model):
    """An item's own anchor, position, scale, rotation and opacity; the position is in the pixels of what it lies in."""

    anchor: Anchor = AnchorTrack(rest=(0.5, 0.5))
    position: Position = PathTrack(rest=(0.0, 0.0))
    scale: Scale = PairTrack(rest=(100.0, 100.0))
    rotation: Rotation = NumberTrack(rest=0.0)
    opacity: Opacity = NumberTrack(rest=100.0)


class Item(Model):
    """A thing in a shape layer: a shape, or a group of them. Without a transform it stands as it is drawn."""

    told_by: ClassVar[str] = "shape"
    noun: ClassVar[str] = "shape"
    shown_elsewhere: ClassVar[frozenset[str]] = frozenset({"effects"})
    label: ClassVar[str]
    is_path: ClassVar[bool] = False
    """Whether it is made of points that are moved one by one."""

    id: Annotated[str, Field(strict=True, pattern=r"^[0-9a-z]{0,12}$")] = ""
    """What tells it apart from the items beside it, also when those come and go; given to it where it has none."""
    name: ItemName = ""
    visible: Flag = True
    transform: ItemTransform | None = None
    repeat: Repeat | None = None
    effects: Annotated[Effects, AfterValidator(numbered)] = ()

    @cached_property
    def at_rest(self) -> ItemTransform:
        """The transform that leaves it as it is drawn: about the middle of its box, or with the anchor fixed at the
        origin where that middle moves."""
        # Colours move no box, nor do the item's own copies its own.
        tracks = {path: track for path, track in tracks_in(self) if _shapes_box(path)}
        if any(track.formula for track in tracks.values()):
            # Where its middle goes, its own tracks do not tell.
            return ItemTransform(anchor=AnchorTrack(rest=(0.0, 0.0), pinned=False))
        times = sorted({key.frame for track in tracks.values() for key in track.keys})
        if not times:
            box = self.box({path: track.rest_array[None, :] for path, track in tracks.items()})
            x, y = box[0, :2] + box[0, 2:] * 0.5
            return ItemTransform(position=PathTrack(rest=(float(x), float(y))))
        steady = all(track.before == track.after == "hold" and track.stays_between for track in tracks.values())
        # Easings that agree half-way may still differ before and after it.
        frames = np.unique([0.0, *times, *(a + (b - a) * share for a, b in pairwise(times) for share in BETWEEN)])
        values = evaluated(tracks, frames, SLOW)
        box = self.box(values)
        middle = box[:, :2] + box[:, 2:] * 0.5
        if not steady or np.abs(middle - middle[0]).max() > STILL:
            return ItemTransform(anchor=AnchorTrack(rest=(0.0, 0.0), pinned=False))
        return ItemTransform(position=PathTrack(rest=(float(middle[0, 0]), float(middle[0, 1]))))

    @abstractmethod
    def box(self, values: Values) -> Floats:
        """left, top, width, height (1 | n, 4) in the item's own pixels."""

    @abstractmethod
    def draw(self, pen: Pen, values: Values) -> None:
        """Draw it in its own pixels."""

    def grows(self) -> tuple[str, ...] | None:
        """The pairs that grow as a box around it is drawn larger; None where it cannot be sized along the axes of
        that box, since it is turned or scaled by itself."""
        own = self.transform
        if own is None:
            return self.sizes()
        still = not own.rotation.moves and not own.scale.moves and not own.rotation.rest
        if not still or own.scale.rest != (100.0, 100.0) or not isinstance(own.position, PathTrack):
            return None
        sizes = self.sizes()
        return None if sizes is None else ("transform.position", *sizes)

    @abstractmethod
    def sizes(self) -> tuple[str, ...] | None:
        """The pairs that grow as its own box is drawn larger; None where it has none that could."""


STILL = 1e-6
"""Pixels."""
PAINTED = frozenset({"fill", "stroke", "opacity"})
BETWEEN = (0.07, 0.19, 0.31, 0.43, 0.57, 0.69, 0.81, 0.93)
SLOW = 30.0
"""Frames a second, for cadences: whether a box stands still does not depend on it."""
CORNERS = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))


def _shapes_box(path: str) -> bool:
    parts = path.split(".")
    # What masks have of a stroke is an outline to them.
    paints = PAINTED - {"fill", "stroke"} if "masks" in parts else PAINTED
    return parts[0] not in ("repeat", "effects") and paints.isdisjoint(parts)


class ShapeItem(Item):
    """One shape; `at` is its origin in the item's own pixels."""

    grown: ClassVar[tuple[str, ...]] = ("at",)
    """The pairs that grow as its box is drawn larger."""
    has_area: ClassVar[bool] = True
    """Whether its outline holds anything inside."""

    at: Annotated[PairTrack, Shown("Offset", "px", ("x", "y"))] = PairTrack(rest=(0.0, 0.0))
    fill: Annotated[Paint | None, Shown("Fill")] = None
    stroke: Annotated[Stroke | None, Shown("Stroke")] = None
    fill_rule: Annotated[Literal["nonzero", "evenodd"], Shown("Inside")] = "nonzero"
    """What is inside of an outline that crosses itself or has several contours (SVG 2, 13.4.2)."""

    @abstractmethod
    def outline(self, values: Values) -> tuple[str, Floats]:
        """The outline in the item's own pixels: constant verbs and their points (1 | n, 2k)."""

    def plain_outline(self, values: Values) -> tuple[str, Floats]:
        """The outline without what only keeps painters alike."""
        return self.outline(values)

    def sizes(self) -> tuple[str, ...] | None:
        return self.grown

    def draw(self, pen: Pen, values: Values) -> None:
        """Fill and stroke the outline."""
        verbs, points = self.outline(values)

        def box() -> Floats:
            return self.box(values)

        if self.fill:
            pen.path(verbs, points, ink_of(self.fill, values, "fill", box), rule=self.fill_rule)
        if self.stroke:
            self.stroke.draw(pen, verbs, points, within(values, "stroke."), box)


class SizedItem(ShapeItem):
    """A shape that fills its size about its centre, which stands at `at`."""

    grown: ClassVar[tuple[str, ...]] = ("at", "size")

    size: Annotated[PairTrack, Shown("Size", "px", ("w", "h"), low=0, high=100_000, what="a size in pixels")]

    def box(self, values: Values) -> Floats:
        origin, size = np.broadcast_arrays(values["at"] - values["size"] / 2, values["size"])
        return np.concatenate([origin, size], axis=1)
