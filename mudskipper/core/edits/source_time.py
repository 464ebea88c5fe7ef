"""Edits of how a source runs in its layer: its speed and direction, frozen, its time keyed."""

from __future__ import annotations

import math
from typing import ClassVar, Literal

import numpy as np
from pydantic import ValidationError

from ..contents.timed import TimedContent
from ..document.properties import with_part
from ..document.scene import Layer, Scene, Span
from ..ground.base_model import Flag, Number, WholeLayer
from ..ground.errors import Refused, refusal_of
from ..tracks.base import KeyFrame
from ..tracks.kinds import NumberKey, NumberTrack
from ..tracks.source_time import FASTEST, SLOWEST, SourceTime
from .base import Edit, EditContext, local_frame, name_of, unlocked


class SourceEdit(Edit):
    """An edit of the time of one layer's source."""

    takes_items: ClassVar[bool] = False

    layer: WholeLayer

    def source(self, scene: Scene) -> tuple[Layer, SourceTime]:
        """The layer and how its source runs; Refused where it has none."""
        layer = unlocked(scene, self.layer)
        if not isinstance(layer.content, TimedContent):
            raise Refused(
                f"'{layer.name}' has no source that runs in a time of its own.",
                where="layer", mend="Choose a clip.",
            )  # fmt: skip
        return layer, layer.content.time


class SetSpeed(SourceEdit):
    """Set a source's speed in percent, below 0 backwards.

    Turned round, it shows first what it showed last. With `stretch` the span is made longer or shorter, so that the
    same part of the source is seen.
    """

    edit: Literal["set_speed"] = "set_speed"
    speed: Number
    stretch: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer, time = self.source(scene)
        if self.speed == 0:
            raise Refused(
                f"A speed lies between {SLOWEST:g} % and {FASTEST:g} %, and 0 % was given.",
                where="speed", mend="Freeze a source that is to stand still.",
            )  # fmt: skip
        speed = math.copysign(min(max(abs(self.speed), SLOWEST), FASTEST), self.speed)
        if speed != self.speed:
            context.notices.append(
                f"A speed lies between {SLOWEST:g} % and {FASTEST:g} %, forwards or backwards: {self.speed:g} % stops "
                f"at {speed:g} %."
            )
        if time.keyed is not None:
            raise Refused(
                f"The source time of '{layer.name}' is keyed, so it has no speed of its own.",
                where="speed", mend="Let go of its source time first, or edit those keys.",
            )  # fmt: skip
        turned = time if (speed < 0) == (time.speed < 0) else time.backwards(layer.span.length, scene.fps)
        factor = abs(time.speed) / abs(speed)
        if turned.freeze is not None and self.stretch:
            turned = turned.model_copy(update={"freeze": turned.freeze * factor})
        layer = with_part(layer, "content.time", turned.model_copy(update={"speed": speed}))
        if self.stretch:
            try:
                span = Span(start=layer.span.start, length=max(round(layer.span.length * factor), 1))
            except ValidationError as error:
                raise refusal_of(error, f"Span of '{layer.name}'") from None
            layer = layer.model_copy(update={"span": span})
        return scene.with_layer(layer)

    def words(self, scene: Scene) -> str:
        return f"Set the speed of {name_of(scene, self.layer)} to {self.speed:g} %"


class FreezeSource(SourceEdit):
    """Let a source stand still from a scene frame on, or with `off` run to the end of its layer."""

    edit: Literal["freeze_source"] = "freeze_source"
    frame: KeyFrame
    off: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer, _ = self.source(scene)
        freeze = None if self.off else local_frame(layer, scene, self.frame)
        return scene.with_layer(with_part(layer, "content.time.freeze", freeze))

    def words(self, scene: Scene) -> str:
        if self.off:
            return f"Let {name_of(scene, self.layer)} run on"
        return f"Froze {name_of(scene, self.layer)} from frame {self.frame:g}"


class KeySourceTime(SourceEdit):
    """Key the time of a source so that it runs as it did, or let go of the keys: it runs on from where they had it at
    the layer's first frame."""

    edit: Literal["key_source_time"] = "key_source_time"
    on: Flag

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer, time = self.source(scene)
        if self.on:
            return scene if time.keyed is not None else scene.with_layer(self._keyed(layer, time, scene.fps))
        if time.keyed is None:
            return scene
        now = context.of(scene).one(layer, layer.span.start).values["content.time.keyed"][0, 0]
        return scene.with_layer(
            with_part(layer, "content.time", time.model_copy(update={"keyed": None, "start": float(now)}))
        )

    @staticmethod
    def _keyed(layer: Layer, time: SourceTime, fps: float) -> Layer:
        frames = [0.0, float(layer.span.length)]
        if time.freeze is not None and 0 < time.freeze < layer.span.length:
            frames.insert(1, time.freeze)
        seconds = time.seconds(np.array(frames), fps)
        keys = tuple(NumberKey(frame=at, value=float(value)) for at, value in zip(frames, seconds, strict=True))
        track = NumberTrack(rest=float(seconds[0]), keys=keys)
        return with_part(layer, "content.time", time.model_copy(update={"keyed": track, "freeze": None}))

    def words(self, scene: Scene) -> str:
        return f"{'Keyed' if self.on else 'Let go of'} the source time of {name_of(scene, self.layer)}"
