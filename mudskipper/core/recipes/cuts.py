"""Moves for a cut, on the two layers that meet there: one goes while the other comes."""

from __future__ import annotations

import math
from abc import abstractmethod
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.framing import Crop
from ..document.properties import with_part
from ..document.scene import Layer, Scene, new_id
from ..easings import Bezier
from ..easings.batch import Ease
from ..effects.base import MOST_EFFECTS
from ..effects.directional_blur import DirectionalBlur
from ..geometry.transform import apply, inverse
from ..ground.base_model import Whole
from ..ground.errors import Refused
from ..ground.shown import Shown
from ..resolve.context import Context
from ..tracks.colour import Colour
from ..tracks.kinds import NumberKey, NumberTrack
from .base import Phase, Recipe, RecipeEase, Side, keyed, on_one_path, value_now

WHIP: Ease = Bezier(bezier=(0.7, 0.0, 0.25, 1.0))
WAYS = {"left": (1, 0), "right": (-1, 0), "top": (0, 1), "bottom": (0, -1)}
"""Where everything goes when what comes does so from a side."""


@dataclass(frozen=True)
class Cut:
    """Two layers that overlap from one scene frame to another, about their cut; which of them lies above."""

    before: Layer
    after: Layer
    first: int
    last: int
    scene: Scene
    context: Context

    @property
    def above(self) -> bool:
        """Whether what comes lies above what goes."""
        return self.scene.places[self.after.id] > self.scene.places[self.before.id]

    def local(self, layer: Layer) -> tuple[float, float]:
        """Both frames, counted from a layer's start."""
        return float(self.first - layer.span.start), float(self.last - layer.span.start)


class CutRecipe(Recipe):
    """A move for a cut."""

    cut: ClassVar[bool] = True
    together: ClassVar[int] = 2
    overlaps: ClassVar[bool] = True
    """Whether both layers are there at once while it lasts."""
    of_scene: ClassVar[bool] = True
    phase: ClassVar[Phase] = "cut"

    length: Annotated[Whole, Field(ge=2, le=10_000), Shown("Length", "f")] = 16
    on_beat: Annotated[Literal["where it is", "nearest beat"], Shown("Cut")] = "where it is"
    sound: Annotated[Literal["fades along", "as it is"], Shown("Sound")] = "fades along"

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        raise Refused(
            f"'{self.recipe}' joins two layers, one that ends where the other begins.", where="layers",
            mend="Select both.",
        )  # fmt: skip

    @abstractmethod
    def bridge(self, cut: Cut) -> Scene:
        """The scene with the keys on both layers."""


class CrossFade(CutRecipe):
    """One fades into the other."""

    recipe: Literal["cross-fade"] = "cross-fade"
    ease: RecipeEase = "linear"

    def bridge(self, cut: Cut) -> Scene:
        return _faded(cut, self.ease, cut.scene)


class PushAcross(CutRecipe):
    """What comes pushes out what goes."""

    recipe: Literal["push across"] = "push across"
    side: Side = "right"
    length: Annotated[Whole, Field(ge=2, le=10_000), Shown("Length", "f")] = 20
    ease: RecipeEase = "ease-in-out"

    def bridge(self, cut: Cut) -> Scene:
        return _pushed(cut, self.side, self.ease)


class SlideOver(CutRecipe):
    """What comes slides over what goes; where it lies below, what goes slides off it."""

    recipe: Literal["slide over"] = "slide over"
    side: Side = "right"
    length: Annotated[Whole, Field(ge=2, le=10_000), Shown("Length", "f")] = 20
    ease: RecipeEase = "ease-in-out"

    def bridge(self, cut: Cut) -> Scene:
        step = _step(cut, self.side)
        if cut.above:
            return cut.scene.with_layer(_moved(cut, cut.after, (-step, 0 * step), self.ease))
        return cut.scene.with_layer(_moved(cut, cut.before, (0 * step, step), self.ease))


class WipeOver(CutRecipe):
    """An edge goes across, and what comes lies behind it."""

    recipe: Literal["wipe over"] = "wipe over"
    side: Side = "left"
    length: Annotated[Whole, Field(ge=2, le=10_000), Shown("Length", "f")] = 20
    ease: RecipeEase = "ease-in-out"

    def bridge(self, cut: Cut) -> Scene:
        upper = cut.after if cut.above else cut.before
        first, last = cut.local(upper)
        left, top, right, bottom = _seen_box(cut, upper)
        # The edge that goes across is that of the upper one: its far one as it comes, its near one as it goes.
        near = {"left": ("left", left, right), "right": ("right", right, left), "top": ("top", top, bottom),
                "bottom": ("bottom", bottom, top)}[self.side]  # fmt: skip
        far = {"left": ("right", left, right), "right": ("left", right, left), "top": ("bottom", top, bottom),
               "bottom": ("top", bottom, top)}[self.side]  # fmt: skip
        edge, start, end = far if cut.above else near
        if upper.crop is None:
            box = cut.context.one(upper, float(cut.first)).content_box[0]
            upper = with_part(upper, "crop", Crop.around(box))
        whole = value_now(upper, f"crop.{edge}", last if cut.above else first, cut.scene)
        ends = (start, whole) if cut.above else (whole, end)
        upper = keyed(upper, f"crop.{edge}", cut.scene, (first, ends[0], self.ease), (last, ends[1], "linear"))
        return cut.scene.with_layer(upper)


class Whip(CutRecipe):
    """A push so fast that both are smeared along it."""

    recipe: Literal["whip"] = "whip"
    side: Side = "right"
    length: Annotated[Whole, Field(ge=2, le=10_000), Shown("Length", "f")] = 12
    smear: Annotated[float, Field(strict=True, ge=0, le=4_000), Shown("Smear", "px")] = 260.0

    def bridge(self, cut: Cut) -> Scene:
        scene = _pushed(cut, self.side, WHIP)
        angle = 0.0 if self.side in ("left", "right") else 90.0
        for name in (cut.before.id, cut.after.id):
            layer = scene.layer(name)
            if len(layer.effects) >= MOST_EFFECTS:
                raise Refused(f"'{layer.name}' has {MOST_EFFECTS} effects, and more it cannot have.", where="layers",
                              mend="Take one off first.")  # fmt: skip
            first, last = cut.local(layer)
            keys = tuple(
                NumberKey(frame=frame, value=value, ease="ease-in-out")
                for frame, value in ((first, 0.0), ((first + last) / 2, self.smear), (last, 0.0))
            )
            length = NumberTrack(rest=0.0, keys=keys)
            blur = DirectionalBlur(name="Whip", length=length, angle=NumberTrack(rest=angle))
            scene = scene.with_layer(with_part(layer, "effects", (*layer.effects, blur)))
        return scene


class ZoomThrough(CutRecipe):
    """Through the middle of what goes, into what comes."""

    recipe: Literal["zoom through"] = "zoom through"
    zoom: Annotated[float, Field(strict=True, gt=100, le=2_000), Shown("Zoom", "%")] = 240.0
    length: Annotated[Whole, Field(ge=2, le=10_000), Shown("Length", "f")] = 18

    def bridge(self, cut: Cut) -> Scene:
        factor = self.zoom / 100
        scene = cut.scene.with_layer(_about_middle(cut, cut.before, (1.0, factor), (0.0, 0.0), "ease-in"))
        # Below what goes it would leave the ground bare where it is smaller.
        small = 1 / factor if cut.above else 1.0
        scene = scene.with_layer(_about_middle(cut, cut.after, (small, 1.0), (0.0, 0.0), "ease-out"))
        return _faded(cut, "ease-in-out", scene)


class SpinThrough(CutRecipe):
    """Both turn about the middle, enlarged while they do so that they cover, and change places in the turn."""

    recipe: Literal["spin through"] = "spin through"
    angle: Annotated[float, Field(strict=True, ge=-720, le=720), Shown("Angle", "°")] = 45.0
    length: Annotated[Whole, Field(ge=2, le=10_000), Shown("Length", "f")] = 18

    def bridge(self, cut: Cut) -> Scene:
        # A picture of this shape that turns as evenly as it grows covers itself from here on: its corner
        # leaves at this rate, and never faster.
        width, height = cut.scene.width, cut.scene.height
        factor = 1.0 + max(width / height, height / width) * math.radians(abs(self.angle))
        scene = cut.scene.with_layer(_about_middle(cut, cut.before, (1.0, factor), (0.0, self.angle), "ease-in"))
        scene = scene.with_layer(_about_middle(cut, cut.after, (factor, 1.0), (-self.angle, 0.0), "ease-out"))
        return _faded(cut, "ease-in-out", scene)


class DipToColour(CutRecipe):
    """Into a colour, and out of it again; neither layer is changed."""

    overlaps: ClassVar[bool] = False
    recipe: Literal["dip to a colour"] = "dip to a colour"
    length: Annotated[Whole, Field(ge=2, le=10_000), Shown("Length", "f")] = 24
    colour: Annotated[Colour, Shown("Colour")] = "#000000ff"

    def bridge(self, cut: Cut) -> Scene:
        scene, long = cut.scene, cut.last - cut.first
        half = cut.before.span.end - cut.first
        keys = [{"frame": 0, "value": 0, "ease": "ease-in-out"}, {"frame": half, "value": 100, "ease": "ease-in-out"},
                {"frame": long, "value": 0}]  # fmt: skip
        shape = {"shape": "rectangle", "size": [scene.width + 2.0, scene.height + 2.0], "fill": self.colour}
        names = {layer.name for layer in scene.layers}
        name = next(one for one in ("Dip", *(f"Dip {n}" for n in range(2, 10_000))) if one not in names)
        dip = Layer.model_validate({
            "id": new_id(), "name": name, "span": {"start": cut.first, "length": long},
            "content": {"kind": "shape", "items": [shape]}, "position": [scene.width / 2, scene.height / 2],
            "opacity": {"rest": 0, "keys": keys},
        })  # fmt: skip
        place = max(scene.places[cut.before.id], scene.places[cut.after.id]) + 1
        return scene.with_layers((*scene.layers[:place], dip, *scene.layers[place:]))


CUTS = (CrossFade, PushAcross, SlideOver, WipeOver, Whip, ZoomThrough, SpinThrough, DipToColour)


def _step(cut: Cut, side: str) -> np.ndarray:
    across, down = WAYS[side]
    return np.array([float(across * cut.scene.width), float(down * cut.scene.height)])


def _pushed(cut: Cut, side: str, ease: Ease) -> Scene:
    step = _step(cut, side)
    scene = cut.scene.with_layer(_moved(cut, cut.before, (0 * step, step), ease))
    return scene.with_layer(_moved(cut, cut.after, (-step, 0 * step), ease))


def _moved(cut: Cut, layer: Layer, steps: tuple[np.ndarray, np.ndarray], ease: Ease) -> Layer:
    """The layer off its own place by steps of the scene at both frames."""
    layer = on_one_path(layer, cut.scene)
    keys: list[tuple[float, Any, Ease]] = []
    for frame, step, eased in zip((cut.first, cut.last), steps, (ease, "linear"), strict=True):
        x, y = value_now(layer, "position", frame - layer.span.start, cut.scene)
        own = cut.context.one(layer, float(frame)).own_step(step)
        keys.append((float(frame - layer.span.start), (float(x + own[0]), float(y + own[1])), eased))
    return keyed(layer, "position", cut.scene, *keys)


def _about_middle(
    cut: Cut, layer: Layer, factors: tuple[float, float], angles: tuple[float, float], ease: Ease
) -> Layer:
    """The layer enlarged and turned about the middle of the scene by both frames."""
    layer = on_one_path(layer, cut.scene)
    middle = np.array([cut.scene.width / 2, cut.scene.height / 2])
    found: dict[str, list[tuple[float, Any, Ease]]] = {"position": [], "scale": [], "rotation": []}
    both = zip((cut.first, cut.last), factors, angles, (ease, "linear"), strict=True)
    for frame, factor, angle, eased in both:
        at = float(frame - layer.span.start)
        one = cut.context.one(layer, float(frame))
        away, turn = one.place[0] - middle, math.radians(angle)
        spin = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
        own = one.own_step(middle + factor * (spin @ away) - one.place[0])
        x, y = value_now(layer, "position", at, cut.scene)
        wide, high = value_now(layer, "scale", at, cut.scene)
        found["position"].append((at, (float(x + own[0]), float(y + own[1])), eased))
        found["scale"].append((at, (wide * factor, high * factor), eased))
        found["rotation"].append((at, value_now(layer, "rotation", at, cut.scene) + angle, eased))
    for name, keys in found.items():
        layer = layer if name == "rotation" and angles == (0.0, 0.0) else keyed(layer, name, cut.scene, *keys)
    return layer


def _faded(cut: Cut, ease: Ease, scene: Scene) -> Scene:
    """The upper of both layers faded in, or out, over the whole of the cut."""
    layer = scene.layer(cut.after.id if cut.above else cut.before.id)
    first, last = cut.local(layer)
    low, high = (0.0, None) if cut.above else (None, 0.0)
    start = value_now(layer, "opacity", first, scene) if low is None else low
    end = value_now(layer, "opacity", last, scene) if high is None else high
    return scene.with_layer(keyed(layer, "opacity", scene, (first, start, ease), (last, end, "linear")))


def _seen_box(cut: Cut, layer: Layer) -> tuple[float, float, float, float]:
    """left, top, right, bottom of what of a layer lies in the scene, in its pixels."""
    one = cut.context.one(layer, float(cut.first))
    left, top, width, height = (float(n) for n in one.content_box[0])
    back = inverse(one.content_matrix)
    if back is None:
        return left, top, left + width, top + height
    size = cut.scene.width, cut.scene.height
    corners = apply(back, np.array([[0.0, 0.0], [size[0], 0.0], [0.0, size[1]], [size[0], size[1]]]))
    low, high = corners.min(axis=0), corners.max(axis=0)
    return (
        max(left, float(low[0])), max(top, float(low[1])),
        min(left + width, float(high[0])), min(top + height, float(high[1])),
    )  # fmt: skip
