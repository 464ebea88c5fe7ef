"""A clip that slows down, or speeds up, and goes on as before."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..document.properties import with_part
from ..document.scene import Layer, Scene
from ..easings import Bezier
from ..easings.batch import Ease
from ..ground.base_model import Whole
from ..ground.errors import Refused
from ..ground.shown import Shown
from ..resolve.context import Context
from ..tracks.kinds import NumberKey, NumberTrack
from .base import Recipe


class SpeedRamp(Recipe):
    """The speed of a clip, eased to another one, held there, and eased back: as keys of its source's time."""

    of_scene: ClassVar[bool] = True
    lasts: ClassVar[tuple[str, ...]] = ("ramp", "hold", "ramp")
    phase: ClassVar[Literal["in", "emphasis", "out"]] = "emphasis"
    recipe: Literal["speed ramp"] = "speed ramp"
    speed: Annotated[float, Field(strict=True, ge=1, le=1_000), Shown("Speed", "%")] = 30.0
    ramp: Annotated[Whole, Field(ge=1, le=10_000), Shown("Ramp", "f")] = 10
    hold: Annotated[Whole, Field(ge=1, le=100_000), Shown("Hold", "f")] = 24

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        time = layer.content.source_time
        if time is None:
            raise Refused(
                f"'{layer.name}' has no source that runs in a time of its own.", where="layer", mend="Choose a clip."
            )
        if time.keyed is not None or time.freeze is not None:
            raise Refused(
                f"The source time of '{layer.name}' is keyed or frozen already.", where="layer",
                mend="Let go of its keys, or let it run on, first.",
            )  # fmt: skip
        usual = time.speed / 100 / scene.fps
        other = usual * self.speed / 100
        end = float(layer.span.length)
        stretches: list[tuple[float, float, float]] = [
            (at, usual, usual), (self.ramp, usual, other), (self.hold, other, other), (self.ramp, other, usual),
            (max(end - at - self.frames, 0.0), usual, usual),
        ]  # fmt: skip
        frame, seconds, keys = 0.0, time.start, []
        for length, first, last in stretches:
            if length <= 0:
                continue
            keys.append(NumberKey(frame=frame, value=seconds, ease=_eased(first, last)))
            frame, seconds = frame + length, seconds + length * (first + last) / 2
        keys.append(NumberKey(frame=frame, value=seconds))
        track = NumberTrack(rest=time.start, keys=tuple(keys), before="carry on", after="carry on")
        return with_part(layer, "content.time", time.model_copy(update={"keyed": track}))


def _eased(first: float, last: float) -> Ease:
    """The easing of a time whose speed goes from one to another in a straight line: a parabola, which is a bezier."""
    mean = (first + last) / 2
    if first == last or mean == 0:
        return "linear"
    return Bezier(bezier=(1 / 3, first / mean / 3, 2 / 3, 1 - last / mean / 3))
