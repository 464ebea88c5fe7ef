"""Points in the scene and in the layer, and the angle to one."""

from __future__ import annotations

from .base import Call, Function


def _placed(way: str, sentence: str, example: str, unit: str) -> Function:
    def run(call: Call) -> object:
        return call.here.placed(way, call.number(0))

    return Function(name=way, written=f"{way}(point)", run=run, sentence=sentence, example=example, unit=unit)


ANGLE_TO = _placed(
    "angle_to", "The angle in degrees from the layer's anchor to a point of the scene.", "angle_to((0, 0))", "°"
)
IN_SCENE = _placed(
    "in_scene", "Where a point of the layer stands in the scene.", "length(in_scene(box.at(0, 0)))", "px"
)
IN_LAYER = _placed("in_layer", "Which point of the layer a point of the scene is.", "length(in_layer((0, 0)))", "px")
