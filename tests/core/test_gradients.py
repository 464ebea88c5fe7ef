"""Gradients: where their handles lie, what their stops are, and how they are changed."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.draw.operations import GradientPaint
from mudskipper.core.edits import apply_edits
from mudskipper.core.geometry.transform import apply
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.paint.painter import Painter
from tests.conftest import cases, layer, scene
from tests.core.edits_at_random import EDIT

STOPS = [{"at": 0, "colour": "#000000"}, {"at": 100, "colour": "#ffffff"}]
TURNED = {"rotation": 30, "scale": [150, -80], "anchor": [0, 1]}


def plate(fill: Any, **motion: Any) -> Scene:
    """A plate of 200 × 100 pixels about the middle of the scene."""
    item = {"shape": "rectangle", "size": [200, 100], "fill": fill, "stroke": {"colour": "#112233", "width": 8}}
    return scene(layer("Plate", content={"kind": "shape", "items": [item]}, **motion))


def edited(before: Scene, **edit: Any) -> Scene:
    after = apply_edits(before, [EDIT.validate_python(edit | {"layer": "plate"})], NO_MEDIA).scene
    assert Scene.model_validate_json(after.to_json()) == after
    return after


def painted(made: Scene, frame: float = 0) -> GradientPaint:
    """The gradient that fills the plate, as it is drawn."""
    drawn: Any = draw_list(resolve(made, [frame], NO_MEDIA)).groups[0]
    fill = drawn.parts[0].fill
    assert isinstance(fill, GradientPaint)
    return fill


def test_places_are_percent_of_the_box() -> None:
    linear = painted(plate({"gradient": "linear", "stops": STOPS, "start": [0, 50], "end": [75, 100]}))
    assert linear.geometry[0].tolist() == [-100, 0, 50, 50]
    radial = painted(plate({"gradient": "radial", "stops": STOPS, "radius": [25, 50]}))
    assert (radial.geometry[0].tolist(), radial.matrix) == ([0, 0, 50], None), "a circle has no matrix"
    oval = painted(plate({"gradient": "radial", "stops": STOPS, "centre": [100, 50], "radius": [50, 20], "angle": 90}))
    assert oval.matrix is not None
    assert np.abs(oval.matrix[0] - [0, 100, -20, 0, 100, 0]).max() < 1e-5
    conic = painted(plate({"gradient": "conic", "stops": STOPS, "angle": -45}))
    assert conic.geometry[0].tolist() == [0, 0, -45]


def test_stops_are_in_order_and_a_point_ends_at_once() -> None:
    """SVG 2, 14.2.4: a stop before the one it follows stands with it; without a length the last colour is seen."""
    stops = [{"at": at, "colour": "#112233"} for at in (40, 10, 90, 60)]
    found = painted(plate({"gradient": "linear", "stops": stops, "start": [50, 50], "end": [50, 50]}))
    assert np.abs(found.offsets[0] - [0.4, 0.4, 0.9, 0.9]).max() < 1e-6
    assert np.hypot(*(found.geometry[0, 2:] - found.geometry[0, :2])) > 0


@pytest.mark.parametrize("motion", [{}, TURNED])
@given(x=st.floats(0, 640), y=st.floats(0, 360))
@cases(12)
def test_a_handle_goes_where_it_is_brought(motion: dict[str, Any], x: float, y: float) -> None:
    """On a layer that is turned, stretched and mirrored, too."""

    def seen(made: Scene, name: str) -> np.ndarray:
        one = resolve(made, [0], NO_MEDIA).layers["plate"]
        share = one.values[f"content.items.0.fill.{name}"][0] / 100
        return apply(one.matrix[0], one.box[0, :2] + share * one.box[0, 2:])

    made = plate({"gradient": "linear", "stops": STOPS}, **motion)
    for part in ("start", "end"):
        assert (
            np.abs(seen(edited(made, edit="aim_gradient", frame=0, part=part, to=[x, y]), part) - [x, y]).max() < 0.01
        )
    turned = plate({"gradient": "conic", "stops": STOPS, "angle": 725}, **motion)
    aimed = edited(turned, edit="aim_gradient", frame=0, part="angle", to=[x, y])
    one = resolve(aimed, [0], NO_MEDIA).layers["plate"]
    degrees = one.values["content.items.0.fill.angle"][0, 0]
    assert abs(degrees - 725) <= 180.01, "it turns the shorter way"
    angle = np.radians(degrees)
    middle = apply(one.matrix[0], np.zeros(2))
    way = apply(one.matrix[0], np.array([np.cos(angle), np.sin(angle)])) - middle
    to = np.array([x, y]) - middle
    assert way @ to >= -1e-6
    assert abs(way[0] * to[1] - way[1] * to[0]) <= 1e-3 * np.hypot(*way) * np.hypot(*to) + 1e-6


def test_stops_are_aimed_added_and_removed() -> None:
    made = plate({"gradient": "linear", "stops": STOPS, "start": [0, 50], "end": [100, 50]})
    aimed = edited(made, edit="aim_gradient", frame=0, part="stop", stop=1, to=[345, 150])
    assert aimed.layer("plate").content.items[0].fill.stops[1].at.rest == 62.5
    added = edited(made, edit="add_stop", frame=0, at=25)
    stops = added.layer("plate").content.items[0].fill.stops
    assert [(stop.at.rest, stop.colour.rest) for stop in stops][1] == (25, "#404040ff")
    more = edited(added, edit="add_stop", frame=0).layer("plate").content.items[0].fill.stops
    assert [stop.at.rest for stop in more] == [0, 25, 62.5, 100]
    fewer = edited(added, edit="remove_stop", stop=0)
    assert fewer.layer("plate").content.items[0].fill.stops[0].at.rest == 25
    with pytest.raises(Refused, match="at least two stops"):
        edited(fewer, edit="remove_stop", stop=0)


def test_a_stop_is_added_in_the_colour_of_its_frame() -> None:
    keys = [{"frame": 0, "value": "#000000"}, {"frame": 40, "value": "#808080"}]
    stops = [{"at": 0, "colour": {"rest": "#000000", "mix": "srgb", "keys": keys}}, STOPS[1]]
    made = edited(plate({"gradient": "conic", "stops": stops}), edit="add_stop", frame=40, at=50)
    assert made.layer("plate").content.items[0].fill.stops[1].colour.rest == "#c0c0c0ff"


def test_a_colour_becomes_a_gradient_and_is_given_back() -> None:
    keys = {"rest": "#112233", "keys": [{"frame": 0, "value": "#112233"}, {"frame": 30, "value": "#ffcc00"}]}
    made = plate(keys)
    for kind in ("linear", "radial", "conic"):
        made = edited(made, edit="set_paint", kind=kind)
        assert painted(made).kind == kind
        assert painted(made, 30).colours[0, :4].tolist() == [255, 204, 0, 255], "its colour keeps its keys"
    given = edited(made, edit="set_paint", kind="colour").layer("plate").content.items[0].fill
    assert len(given.keys) == 2
    stroke = edited(made, edit="set_paint", paint="stroke", kind="linear")
    assert stroke.layer("plate").content.items[0].stroke.colour.gradient == "linear"


@pytest.mark.parametrize(
    ("fill", "told"),
    [
        ({"gradient": "linear", "stops": STOPS[:1]}, "stops must hold at least 2"),
        ({"gradient": "swirl", "stops": STOPS}, "gradient"),
        ({"gradient": "radial", "stops": STOPS, "radius": [-5, 5]}, "a radius in percent must lie between"),
        ({"stops": [{"at": 120, "colour": "#000000"}, STOPS[1]], "gradient": "conic"}, "the place of a stop"),
        ("blue", "a colour must be written #rrggbb"),
    ],
)
def test_a_paint_that_cannot_be_read_says_why(fill: Any, told: str) -> None:
    with pytest.raises(Refused, match=told):
        plate(fill)


def test_pixels_of_a_linear_gradient_follow_its_definition() -> None:
    """Along the way each channel is mixed evenly, within a step of 255 and the dither's half of one."""
    made = plate({"gradient": "linear", "stops": STOPS, "start": [0, 50], "end": [100, 50]})
    painter = Painter(640, 360, {}.get)  # type: ignore[arg-type]
    painter.paint(draw_list(resolve(made, [0], NO_MEDIA)), 0)
    row = painter.pixels()[180, 230:410, 0].astype(float)
    wanted = (np.arange(230, 410) + 0.5 - 220) / 200 * 255
    assert np.abs(row - wanted).max() <= 1.5


def test_the_rule_says_what_is_inside() -> None:
    """A star drawn in one go: its middle is filled by the one rule, and not by the other (SVG 2, 13.4.2)."""
    corners = [[100 * np.sin(np.radians(144 * i)), -100 * np.cos(np.radians(144 * i))] for i in range(5)]
    points = [[*corner, 0, 0, 0, 0] for corner in corners]
    for rule, filled in (("nonzero", 255), ("evenodd", 0)):
        item = {"shape": "path", "contours": [{"count": 5, "closed": True}], "points": points, "fill": "#ff0000",
                "fill_rule": rule}  # fmt: skip
        made = scene(
            layer("Star", content={"kind": "shape", "items": [item]}, anchor={"rest": [0, 0], "pinned": False})
        )
        painter = Painter(640, 360, {}.get)  # type: ignore[arg-type]
        painter.paint(draw_list(resolve(made, [0], NO_MEDIA)), 0)
        assert painter.pixels()[180, 320, 3] == filled
