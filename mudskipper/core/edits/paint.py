"""Edits of what a shape or a text is painted with: colour or gradient, its stops, and its handles on the stage."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..contents.base import Painted
from ..contents.cascade import Cascade
from ..document.properties import with_part
from ..document.scene import Layer, Scene
from ..geometry.bezier import Floats
from ..geometry.transform import turn
from ..geometry.values import within
from ..ground.base_model import Flag, LayerId, Number, Pair, Whole
from ..ground.errors import Refused
from ..shapes import Gradient, ShapeItem
from ..shapes.gradient import in_box
from ..tracks.base import KeyFrame
from ..tracks.colour import ColourTrack
from ..tracks.evaluate import shown_at
from ..tracks.kinds import NumberTrack
from ..tracks.stops import MOST_STOPS, Stop
from .base import Edit, EditContext, View, name_of, unlocked
from .transform_layers import set_at

Which = Literal["fill", "stroke"]
PATHS: dict[str, str] = {"fill": "fill", "stroke": "stroke.colour"}
SECOND = "#fbf8f2ff"
"""The last colour of a gradient that is made of a colour."""
NEW_FILL = "#0e6b61ff"


class PaintEdit(Edit):
    """An edit of the fill or of the stroke of the shape that a layer, or an item of one, is, or of a text or a part of
    it, or of the fill that a cascade gives its units."""

    layer: LayerId
    paint: Which = "fill"
    of_part: Annotated[Whole, Field(ge=0)] | None = None
    of_cascade: Annotated[Whole, Field(ge=0)] | None = None

    def painted(self, layer: Layer) -> tuple[Painted, str]:
        """What has the paint, and how the path of that in the content begins; Refused in words where there is none."""
        if self.of_cascade is not None:
            cascades: tuple[Cascade, ...] = getattr(layer.content, "cascades", ())
            if self.of_cascade >= len(cascades):
                raise Refused(
                    f"There is no cascade number {self.of_cascade + 1} of '{layer.name}'.", where="of_cascade"
                )
            return cascades[self.of_cascade], f"cascades.{self.of_cascade}."
        found: tuple[Painted, str] | None = layer.content.painted(self.of_part)
        if found is None and self.of_part is not None:
            raise Refused(f"There is no part number {self.of_part + 1} of '{layer.name}'.", where="of_part")
        if found is None:
            raise Refused(
                f"'{layer.name}' is no single shape, and no text.", where="layer", mend="Choose one shape or text."
            )
        return found

    def path(self, layer: Layer) -> str:
        """The path of the paint in the content."""
        return f"{self.painted(layer)[1]}{PATHS[self.paint]}"

    def now(self, layer: Layer) -> ColourTrack | Gradient | None:
        """What it is painted with; None where it is not."""
        one, _ = self.painted(layer)
        if self.paint == "fill":
            return one.fill
        return one.stroke.colour if one.stroke else None

    def gradient(self, layer: Layer) -> Gradient:
        """The gradient that it is painted with; Refused in words where it is none."""
        paint = self.now(layer)
        if not isinstance(paint, Gradient):
            raise Refused(
                f"The {self.paint} of '{layer.name}' is no gradient.", where="paint", mend="Make it a gradient first."
            )
        return paint

    def put(self, scene: Scene, layer: Layer, paint: Any) -> Scene:
        """The scene with the paint changed."""
        return scene.with_layer(with_part(layer, f"content.{self.path(layer)}", paint))


class SetPaint(PaintEdit):
    """Paint with a colour or a kind of gradient. A gradient begins with the colour that was there, and leaves its first
    one; from kind to kind it keeps its stops."""

    edit: Literal["set_paint"] = "set_paint"
    kind: Literal["colour", "linear", "radial", "conic"]

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        now = self.now(layer)
        if now is None and self.paint == "stroke":
            raise Refused(f"'{layer.name}' has no stroke.", where="paint", mend="Give it a stroke first.")
        colour = now.stops[0].colour if isinstance(now, Gradient) else now or ColourTrack(rest=NEW_FILL)
        if self.kind == "colour":
            return self.put(scene, layer, colour)
        if isinstance(now, Gradient):
            return self.put(scene, layer, now.model_copy(update={"gradient": self.kind}))
        ends = (Stop(at=NumberTrack(rest=0.0), colour=colour), Stop(at=NumberTrack(rest=100.0), colour=_track(SECOND)))
        return self.put(scene, layer, Gradient(gradient=self.kind, stops=ends))

    def words(self, scene: Scene) -> str:
        what = "a colour" if self.kind == "colour" else f"a {self.kind} gradient"
        return f"Made the {self.paint} of {name_of(scene, self.layer)} {what}"


class AddStop(PaintEdit):
    """Add a stop to a gradient: at a place in percent, or in the middle of the widest stretch; in the colour that is
    there at the frame."""

    edit: Literal["add_stop"] = "add_stop"
    frame: KeyFrame
    at: Annotated[Number, Field(ge=0, le=100)] | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        gradient = self.gradient(layer)
        if len(gradient.stops) >= MOST_STOPS:
            raise Refused(f"A gradient has at most {MOST_STOPS} stops.", mend="Remove one first.")
        local = self.frame - layer.span.start
        places = np.maximum.accumulate([shown_at(stop.at, local, scene.fps) for stop in gradient.stops])
        colours = [shown_at(stop.colour, local, scene.fps) for stop in gradient.stops]
        if self.at is None:
            widest = int(np.argmax(np.diff(places)))
            at = float(places[widest] + places[widest + 1]) / 2
        else:
            at = self.at
        index = int(np.searchsorted(places, at, side="right"))
        stop = Stop(at=NumberTrack(rest=at), colour=_track(_mixed(colours, places, at)))
        stops = (*gradient.stops[:index], stop, *gradient.stops[index:])
        return self.put(scene, layer, gradient.model_copy(update={"stops": stops}))

    def words(self, scene: Scene) -> str:
        return f"Added a stop to the {self.paint} of {name_of(scene, self.layer)}"


class RemoveStop(PaintEdit):
    """Take a stop off a gradient, which keeps two at least."""

    edit: Literal["remove_stop"] = "remove_stop"
    stop: Annotated[Whole, Field(ge=0)]

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        gradient = self.gradient(layer)
        if len(gradient.stops) <= 2:
            raise Refused("A gradient has at least two stops.", mend="Make it a colour instead.")
        _known(gradient, self.stop)
        stops = gradient.stops[: self.stop] + gradient.stops[self.stop + 1 :]
        return self.put(scene, layer, gradient.model_copy(update={"stops": stops}))

    def words(self, scene: Scene) -> str:
        return f"Removed a stop of the {self.paint} of {name_of(scene, self.layer)}"


class AimGradient(PaintEdit):
    """Bring a handle of a gradient to a point of the scene: an end, the centre, a radius, the angle, or a stop."""

    sets_values: ClassVar[bool] = True

    edit: Literal["aim_gradient"] = "aim_gradient"
    frame: KeyFrame
    part: Literal["start", "end", "centre", "radius x", "radius y", "angle", "stop"]
    stop: Annotated[Whole, Field(ge=0)] = 0
    to: Pair
    round: Flag = False
    """Whether both radii become as long, in pixels, as the one that is drawn."""

    def seen_inside(self, view: View) -> Edit:
        return self.model_copy(update={"to": view.point(self.to)})

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        gradient = self.gradient(layer)
        one = context.of(scene).one(layer, self.frame)
        to = np.array(View(scene, layer, one.matrix[0]).point(self.to))
        painted, start = self.painted(layer)
        box = (painted.box(within(one.inner, start)) if isinstance(painted, ShapeItem) else one.content_box)[:1]
        size = box[0, 2:]
        if (size <= 0).any():
            raise Refused(f"'{layer.name}' has no size here.", mend="Go to a frame where it has a size.")
        own = within(one.inner, f"{self.path(layer)}.")
        name, value = self._aimed(gradient, own, box, to)
        path = f"content.{self.path(layer)}.{name}"
        return scene.with_layer(set_at(layer, scene, self.frame, path, value))

    def _aimed(self, gradient: Gradient, own: dict[str, Floats], box: Floats, to: Floats) -> tuple[str, Any]:
        """The track that the handle belongs to, and its value."""
        size = box[0, 2:]
        share = _pair((to - box[0, :2]) / size * 100.0)
        if self.part in ("start", "end", "centre"):
            return self.part, share
        centre = in_box(own["centre"][:1], box)[0]
        away = to - centre
        angle = float(own["angle"][0, 0])
        if self.part == "angle":
            # As many whole turns as now: a key that turns on does not turn back.
            by = float(np.degrees(np.arctan2(away[1], away[0]))) - angle
            return "angle", round(angle + (by + 180.0) % 360.0 - 180.0, 2)
        (cos,), (sin,) = (part for part in turn(np.array([angle])))
        along = np.array([cos * away[0] + sin * away[1], -sin * away[0] + cos * away[1]])
        if self.part.startswith("radius"):
            axis = "xy".index(self.part[-1])
            long = float(abs(along[axis]))
            now = own["radius"][0]
            drawn = [long / side * 100.0 for side in size]
            kept = [drawn[i] if self.round or i == axis else float(now[i]) for i in range(2)]
            return "radius", _pair(np.array(kept))
        _known(gradient, self.stop)
        if gradient.gradient == "linear":
            first, last = (in_box(own[end][:1], box)[0] for end in ("start", "end"))
            way = last - first
            place = float((to - first) @ way) / max(float(way @ way), 1e-9)
        elif gradient.gradient == "radial":
            radius = np.maximum(own["radius"][0] / 100.0 * size, 1e-6)
            place = float(np.hypot(*(along / radius)))
        else:
            place = float(np.degrees(np.arctan2(along[1], along[0])) % 360.0) / 360.0
        return f"stops.{self.stop}.at", round(min(max(place, 0.0), 1.0) * 100.0, 2)

    def words(self, scene: Scene) -> str:
        return f"Aimed the {self.paint} of {name_of(scene, self.layer)}"

    def target(self) -> tuple[object, ...]:
        return self.layer, self.paint, self.of_part, self.of_cascade, self.frame, self.part, self.stop


def _known(gradient: Gradient, stop: int) -> None:
    if stop >= len(gradient.stops):
        raise Refused(f"There is no stop number {stop + 1}; there are {len(gradient.stops)}.", where="stop")


def _pair(numbers: Floats) -> tuple[float, float]:
    x, y = (round(float(number), 3) + 0.0 for number in numbers)
    return x, y


def _track(colour: str) -> ColourTrack:
    return ColourTrack(rest=colour)


def _mixed(colours: list[str], places: Floats, at: float) -> str:
    """The colour at a place among others, mixed in sRGB and not premultiplied."""
    channels = np.array([[int(colour[i : i + 2], 16) for i in (1, 3, 5, 7)] for colour in colours])
    here = [round(float(np.interp(at, places, channels[:, channel]))) for channel in range(4)]
    return "#" + "".join(f"{channel:02x}" for channel in here)
