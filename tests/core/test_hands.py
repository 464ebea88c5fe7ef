"""The hands' sums: handles, turns, several layers, and why a layer does not show."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.checks.not_showing import unseen
from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.edits.move_anchor import MoveAnchor
from mudskipper.core.edits.transform_layers import BringTo, ChangeProperty, DragHandle, ScaleLayers, TurnLayers
from mudskipper.core.geometry.transform import apply
from mudskipper.core.ground.errors import Refused
from mudskipper.core.ground.stations import STATIONS
from mudskipper.core.moves.box_handles import HANDLES
from mudskipper.core.resolve.bounds import bounds
from mudskipper.core.resolve.layers import ResolvedLayer
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import cases, layer, scene


def moved(before: Scene, *edits: Any) -> Scene:
    return apply_edits(before, list(edits), NO_MEDIA).scene


def one(of: Scene, name: str = "plate", frame: float = 0) -> ResolvedLayer:
    return resolve(of, [frame], NO_MEDIA).layers[name]


def station(of: ResolvedLayer, name: str) -> np.ndarray:
    return apply(of.matrix[0], of.box[0, :2] + np.array(STATIONS[name]) * of.box[0, 2:])


share = st.tuples(st.floats(-0.5, 1.5), st.floats(-0.5, 1.5))
place = st.tuples(st.floats(-900, 900), st.floats(-900, 900)).map(lambda p: (round(p[0], 2), round(p[1], 2)))


@cases(60)
@given(
    handle=st.sampled_from(HANDLES), anchor=share, to=place, turn=st.floats(-400, 400),
    scale=st.tuples(st.floats(-250, 250), st.floats(-250, 250)), by=st.sampled_from(["scale", "size"]),
)  # fmt: skip
def test_a_drawn_handle_comes_under_the_pointer(
    handle: str, anchor: tuple[float, float], to: tuple[float, float], turn: float, scale: Any, by: str
) -> None:
    """Along each axis the handle draws, seen from the turned layer, it stands at the pointer; the anchor stays."""
    before = scene(layer(anchor=list(anchor), rotation=turn, scale=list(scale)))
    after = moved(before, DragHandle(layer="plate", frame=0, handle=handle, to=to, by=by))
    was, now = one(before), one(after)
    assert np.allclose(now.values["position"], was.values["position"])
    assert np.allclose(apply(now.matrix[0], now.anchor[0]), was.values["position"][0], atol=1e-6)
    angle = np.deg2rad(turn)
    axes = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    away = axes @ (station(now, handle) - np.array(to))
    for axis, (arm, size) in enumerate(zip(np.array(STATIONS[handle]) - anchor, (200, 100), strict=True)):
        if STATIONS[handle][axis] == 0.5:
            assert now.values["scale"][0, axis] == was.values["scale"][0, axis]
        elif max(abs(now.values["scale"][0, axis]), now.box[0, 2 + axis]) == 100_000:
            pass  # as far as it goes
        elif abs(arm) * size * abs(scale[axis]) > 100 and (by == "scale" or now.box[0, 2 + axis] > 0):
            assert abs(away[axis]) < 0.02 + 1e-5 * abs(arm) * size * abs(scale[axis])


@pytest.mark.parametrize(
    ("start", "handle", "to", "more", "expected"),
    [
        ({"anchor": [0, 0.5]}, "right", (720, 0), {}, {"scale": (200, 100)}),
        ({"anchor": [0, 0.5]}, "right", (120, 0), {}, {"scale": (-100, 100)}),
        ({"anchor": [0, 0]}, "bottom right", (720, 180), {"proportional": True}, {"scale": (160, 160)}),
        ({"anchor": [0, 1]}, "top", (0, 30), {"by": "size"}, {"size": (200, 150)}),
        ({"anchor": [0, 1]}, "top", (0, 400), {"by": "size"}, {"size": (200, 0)}),
        ({"anchor": [0, 0.5], "scale": [0, 100]}, "right", (420, 0), {}, {"scale": (50, 100)}),
        ({"rotation": 90}, "right", (320, 380), {}, {"scale": (200, 100)}),
    ],
)
def test_handles_in_closed_form(start: Any, handle: str, to: Any, more: Any, expected: dict[str, Any]) -> None:
    """Flips through zero, keeps proportion, stops a size at 0, comes back from scale 0."""
    after = moved(scene(layer(**start)), DragHandle(layer="plate", frame=0, handle=handle, to=to, **more))
    values = one(after).values
    for name, value in expected.items():
        track = "content.items.0.size" if name == "size" else name
        assert values[track][0] == pytest.approx(value, abs=1e-3)


def test_a_handle_on_the_anchor_says_so_and_a_keyed_scale_gets_a_key() -> None:
    keyed = {"rest": [100, 100], "keys": [{"frame": 0, "value": [100, 100]}, {"frame": 40, "value": [50, 50]}]}
    before = scene(layer(anchor=[0, 0.5], scale=keyed))
    outcome = apply_edits(before, [DragHandle(layer="plate", frame=20, handle="bottom left", to=(0, 255))], NO_MEDIA)
    assert "stands on the anchor along x" in outcome.notices[0]
    keys = outcome.scene.layers[0].scale.keys
    assert [(key.frame, key.value) for key in keys] == [(0, (100, 100)), (20, (75, 150)), (40, (50, 50))]
    with pytest.raises(Refused, match="no handle 'middle'"):
        moved(before, DragHandle(layer="plate", frame=0, handle="middle", to=(0, 0)))


def pair() -> Scene:
    return scene(layer("Plate", position=[100, 100]), layer("Sign", position=[500, 300], rotation=90, scale=[50, 50]))


def test_layers_grow_and_turn_about_their_common_box() -> None:
    """The opposite point of the common box stays, every point moves as the box does; a turn about its middle."""
    before = pair()
    boxes = [bounds(one(before, name))[0] for name in ("plate", "sign")]
    left, top = np.min(boxes, axis=0)[:2]
    right, bottom = np.max(boxes, axis=0)[2:]
    to = (left + 2 * (right - left), top + 3 * (bottom - top))
    both = {"layers": ("plate", "sign"), "frame": 0, "about": "box"}
    after = moved(before, ScaleLayers(**both, handle="bottom right", to=to))
    for name in ("plate", "sign"):
        old, new = one(before, name), one(after, name)
        for at in STATIONS:
            wanted = (station(old, at) - [left, top]) * [2, 3] + [left, top]
            assert station(new, at) == pytest.approx(wanted, abs=0.02), (name, at)
    turned = moved(before, TurnLayers(**both, by=450))
    middle = np.array([left + right, top + bottom]) / 2
    for name, rotation in (("plate", 450), ("sign", 540)):
        old, new = one(before, name), one(turned, name)
        x, y = (station(old, "top left") - middle).tolist()
        assert station(new, "top left") == pytest.approx(middle + np.array([-y, x]), abs=1e-6)
        assert new.values["rotation"][0, 0] == rotation
    own = moved(before, TurnLayers(layers=("plate", "sign"), frame=0, by=30))
    assert one(own).values["position"].tolist() == [[100, 100]]
    own = moved(before, ScaleLayers(layers=("plate", "sign"), frame=0, handle="right", to=(float(2 * right - left), 0)))
    assert one(own, "sign").values["position"].tolist() == [[500, 300]]
    assert one(own, "sign").values["scale"][0] == pytest.approx([50, 100])


def test_layers_are_brought_to_a_point_and_changed_together() -> None:
    keys = [{"frame": 0, "value": [0, 0]}, {"frame": 10, "value": [50, 50]}]
    before = scene(layer("Plate", position={"rest": [0, 0], "keys": keys}), layer("Sign", opacity=40))
    after = moved(before, BringTo(layers=("plate", "sign"), frame=10, to="scene centre"))
    assert [key.value for key in after.layers[0].position.keys] == [(0, 0), (320, 180)]
    assert after.layers[1].position.rest == (320, 180)
    assert moved(before, BringTo(layers=("sign",), frame=0, to=(None, 7))).layers[1].position.rest == (320, 7)
    change = {"layers": ("plate", "sign"), "frame": 0}
    added = moved(before, ChangeProperty(**change, property="opacity", way="add", value=-15))
    assert [one.opacity.rest for one in added.layers] == [85, 25]
    grown = moved(before, ChangeProperty(**change, property="scale", way="multiply", value=1.5, part=1))
    assert [one.scale.rest for one in grown.layers] == [(100, 150), (100, 150)]
    painted = moved(before, ChangeProperty(**change, property="content.items.0.fill", way="set", value="#112233"))
    assert painted.layers[1].content.items[0].fill.rest == "#112233ff"
    with pytest.raises(Refused, match="is a colour"):
        moved(before, ChangeProperty(**change, property="content.items.0.fill", way="add", value=3))
    outcome = apply_edits(before, [ChangeProperty(**change, property="opacity", way="multiply", value=3)], NO_MEDIA)
    assert outcome.notices == (
        "Opacity goes from 0 to 100 %: 300 stops at 100.",
        "Opacity goes from 0 to 100 %: 120 stops at 100.",
    )
    assert [one.opacity.rest for one in outcome.scene.layers] == [100, 100]


def test_the_anchor_is_put_at_one_coordinate_of_the_scene() -> None:
    before = scene(layer(rotation=30, scale=[150, 80]))
    after = moved(before, MoveAnchor(layer="plate", frame=0, to={"scene": (None, 100)}))
    assert one(after).values["position"][0] == pytest.approx([320, 100])
    for at in STATIONS:
        assert station(one(after), at) == pytest.approx(station(one(before), at))


def lined(**stroke: Any) -> dict[str, Any]:
    """A square with a stroke alone."""
    return {"kind": "shape", "items": [
        {"shape": "rectangle", "size": [90, 90], "stroke": {"colour": "#ffffff", **stroke}}
    ]}  # fmt: skip


@pytest.mark.parametrize(
    ("tracks", "frame", "reason", "words"),
    [
        ({"visible": False}, 0, "hidden", "it is hidden"),
        ({"span": {"start": 10, "length": 5}}, 0, "span", "it is there from 0:10 to 0:14 only"),
        ({"opacity": 0}, 0, "opacity", "its opacity is 0 %"),
        ({"scale": [0, 100]}, 0, "scale", "its scale is 0 on x"),
        ({"position": [-400, 180]}, 0, "outside", "it stands 300 px left of the frame"),
        ({"position": [320, 500]}, 0, "outside", "it stands 90 px below the frame"),
        ({"content": {"kind": "shape", "items": [{"shape": "ellipse", "size": [9, 9]}]}}, 0, "colourless", "neither"),
        ({"content": lined(width=0)}, 0, "colourless", "neither"),
        ({"content": lined(part={"start": 30, "end": 30})}, 0, "colourless", "neither"),
        ({"content": lined(dashes={"dash": 0})}, 0, "colourless", "neither"),
        ({"content": {"kind": "shape", "items": [{"shape": "ellipse", "size": [0, 9], "fill": "#ffffff"}]}}, 0,
         "size", "its size is 0"),
    ],
)  # fmt: skip
def test_why_a_layer_does_not_show(tracks: Any, frame: int, reason: str, words: str) -> None:
    """Told in words, and what it offers mends it."""
    before = scene(layer(**tracks))
    (found,) = unseen(before, frame, NO_MEDIA)
    assert (found.reason, found.layer) == (reason, "plate")
    assert words in found.sentence
    if found.go is not None:
        assert unseen(before, found.go, NO_MEDIA) == []
    if found.edits:
        assert unseen(moved(before, *found.edits), frame, NO_MEDIA) == []
    for shown in ({}, {"content": lined()}, {"content": lined(part={"start": 30, "end": 40})}):
        assert unseen(scene(layer(**shown)), 0, NO_MEDIA) == []
