"""What recipes share: a move that lands as ordinary keys, and how those are written."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.properties import remade, track_of, with_track
from ..document.scene import Layer, Scene
from ..easings import Bezier
from ..easings.batch import Ease
from ..ground.base_model import Model, Whole
from ..ground.shown import Shown
from ..moves import position_keys as position_of
from ..moves.anchor_moves import moment, reanchored, station_point
from ..moves.inserted_keys import inserted
from ..moves.keys import holding, with_key
from ..resolve.context import Context
from ..tracks.base import SAME
from ..tracks.evaluate import key_at, value_at

Length = Annotated[Whole, Field(ge=1, le=100_000), Shown("Length", "f")]
Angle = Annotated[float, Field(strict=True, ge=-3600, le=3600), Shown("Angle", "°")]
Percent = Annotated[float, Field(strict=True, ge=0, le=10_000)]
Side = Annotated[Literal["left", "right", "top", "bottom"], Shown("Side")]
Damping = Annotated[float, Field(strict=True, ge=0.05, le=3), Shown("Damping", step=0.05)]
Station = Annotated[
    Literal["top left", "top", "top right", "left", "centre", "right", "bottom left", "bottom", "bottom right"],
    Shown("Station"),
]
RecipeEase = Annotated[Ease, Shown("Easing")]
Phase = Literal["in", "emphasis", "out", "letters", "several", "cut"]
LANDING: Ease = Bezier(bezier=(0.1, 0.8, 0.3, 1.0))


class Recipe(Model):
    """A ready-made move: its few numbers, and how it writes its keys on one layer, `at` being the frame, counted from
    the layer's start, at which it begins."""

    told_by: ClassVar[str] = "recipe"
    lasts: ClassVar[tuple[str, ...]] = ("length",)
    """The fields that make up its length, one after another; none where it goes on forever."""
    of_scene: ClassVar[bool] = False
    """Whether it moves by the size of the scene, which a shape within a layer does not know."""
    offered: ClassVar[bool] = True
    """Whether it is one of those that everyone has."""
    together: ClassVar[int] = 0
    """How many layers it moves as one, at least; each by itself where none."""
    cut: ClassVar[bool] = False
    """Whether it joins two layers that meet at a cut."""
    phase: ClassVar[Phase] = "in"
    """What it is for: to bring a layer in, to draw the eye to one that is there, to take it through and out, to move
    its letters, to move several as one, or for the cut between two."""
    recipe: str

    @abstractmethod
    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        """The layer with the move's keys."""

    def write_together(self, layers: Sequence[Layer], frame: float, scene: Scene, context: Context) -> Scene:
        """The scene with the move's keys on several layers, from a scene frame on."""
        raise NotImplementedError

    @property
    def frames(self) -> int:
        """The move's length in frames."""
        return max(sum(int(getattr(self, name)) for name in self.lasts), 1)


def keyed(layer: Layer, name: str, scene: Scene, *keys: tuple[float, Any, Ease]) -> Layer:
    """The layer with keys (frame, value, easing) written on a property; keys that lay between the ends go.

    An end at which the property keeps the value that it has leaves the motion beyond it as it is.
    """
    track = track_of(layer, name)
    low, high = keys[0][0], keys[-1][0]
    before = {frame: value_at(track, frame, scene.fps) for frame in (low, high)}
    same = {frame: _alike(value, before[frame]) for frame, value in ((low, keys[0][1]), (high, keys[-1][1]))}
    for frame in (low, high):
        if track.keys and same[frame]:
            track = inserted(track, name, frame, scene.fps)
    track = track if len(track.keys) > 1 else holding(track)
    left = tuple(key for key in track.keys if not low + SAME < key.frame < high - SAME)
    track = remade(track, name, keys=left)
    for frame, value, ease in keys:
        there = key_at(track, frame)
        lands = frame == high and same[high] and there is not None
        track = with_key(track, name, frame, value, there.ease if lands else ease)
    return with_track(layer, name, track.straight_between(low, high))


def _alike(a: Any, b: Any) -> bool:
    return bool(np.allclose(np.atleast_1d(a), np.atleast_1d(b), rtol=0, atol=1e-9))


def anchored(layer: Layer, at: float, window: tuple[float, float], scene: Scene, context: Context, place: Any) -> Layer:
    """The layer with its anchor at a station, or at a content point that `place` works out, at a moment; the picture is
    unmoved then, and at every frame outside the window in which the recipe writes its keys."""
    start = layer.span.start
    now = moment(layer, at + start, context)
    point = station_point(now, place) if isinstance(place, str) else place(now)
    return reanchored(layer, at + start, point, (window[0] + start, window[1] + start), context)


def value_now(layer: Layer, name: str, at: float, scene: Scene) -> Any:
    return value_at(track_of(layer, name), at, scene.fps)


def on_one_path(layer: Layer, scene: Scene) -> Layer:
    return position_of.joined(layer, scene.fps)
