"""Edits: what they write, what they leave alone, and what they refuse."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import Outcome, apply_edits
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.core.geometry.transform import apply
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import cases, layer, scene

EDIT: TypeAdapter[Any] = TypeAdapter(AnyEdit)
GROW = {"rest": [100, 100], "keys": [{"frame": 0, "value": [0, 100]}, {"frame": 12, "value": [100, 100]}]}
TURN = {"rest": 0, "keys": [{"frame": 0, "value": 0, "ease": "ease"}, {"frame": 20, "value": 90}]}


def done(made: Scene, *edits: dict[str, Any]) -> Outcome:
    return apply_edits(made, [EDIT.validate_python(one) for one in edits], NO_MEDIA)


def corners(made: Scene, frame: float, name: str = "plate") -> np.ndarray:
    one = resolve(made, [frame], NO_MEDIA).layers[name]
    left, top, width, height = one.box[0]
    box = np.array([[left, top], [left + width, top], [left, top + height], [left + width, top + height]])
    return apply(one.matrix[0], box)


numbers = st.floats(-400, 400).map(lambda n: round(n, 3))
sizes = st.floats(-300, 300).filter(lambda n: abs(n) > 1)


@cases(60)
@given(
    turn=numbers,
    wide=sizes,
    tall=sizes,
    frame=st.integers(0, 59),
    pinned=st.booleans(),
    keyed=st.booleans(),
    to=st.one_of(
        st.sampled_from(["top left", "left", "centre", "bottom right"]).map(lambda s: {"station": s}),
        st.tuples(numbers, numbers).map(lambda p: {"scene": list(p)}),
        st.tuples(numbers, numbers).map(lambda p: {"content": list(p)}),
        st.tuples(st.floats(-2, 3), numbers).map(lambda p: {"fraction": [p[0], None]}),
    ),
)
def test_picture_stays_put(
    turn: float, wide: float, tall: float, frame: int, pinned: bool, keyed: bool, to: dict[str, Any]
) -> None:
    """At its frame no corner moves by 1e-6 px; the path keeps its shape; the anchor is where it was asked to be."""
    path = [{"frame": 5, "value": [10, 40], "ease": "ease-in"}, {"frame": 50, "value": [500, 90]}]
    made = scene(
        layer(
            rotation={"rest": 0, "keys": [{"frame": 2, "value": turn}, {"frame": 40, "value": -turn}]},
            scale={"rest": [wide, tall]},
            anchor={"rest": [0.2, 0.9] if pinned else [30, -7], "pinned": pinned},
            position={"rest": [320, 180], "keys": path if keyed else []},
        )
    )
    after = done(made, {"edit": "move_anchor", "layer": "plate", "frame": frame, "to": to}).scene
    assert np.abs(corners(after, frame) - corners(made, frame)).max() < 1e-6
    old, new = made.layers[0].position, after.layers[0].position
    if keyed:
        steps = [np.subtract(b.value, a.value) for a, b in zip(old.keys, new.keys, strict=True)]
        assert np.allclose(steps[0], steps[1], atol=1e-9)
    moved = resolve(after, [frame], NO_MEDIA).layers["plate"]
    if "scene" in to:
        assert np.allclose(apply(moved.matrix[0], moved.anchor[0]), to["scene"], atol=1e-6)


def test_anchor_stays_put_slides_the_picture() -> None:
    made = scene(layer(rotation=90, scale=[50, 200]))
    after = done(
        made, {"edit": "move_anchor", "layer": "plate", "frame": 0, "to": {"station": "left"}, "keep": "anchor"}
    ).scene
    assert after.layers[0].position == made.layers[0].position
    slid = corners(after, 0) - corners(made, 0)
    assert np.allclose(slid, [0, 50])  # -R·S·Δ, with Δ = (-100, 0), half as large, turned by 90°


def test_a_bar_grows_from_its_foot_without_a_formula() -> None:
    """Size under a pinned anchor grows from the anchor."""
    item = {
        "shape": "rectangle",
        "size": {"rest": [40, 0], "keys": [{"frame": 0, "value": [40, 0]}, {"frame": 10, "value": [40, 300]}]},
        "corners": 8,
    }
    made = scene(layer(content={"kind": "shape", "items": [item]}, anchor=[0.5, 1]))
    one = resolve(made, np.arange(20), NO_MEDIA).layers["plate"]
    foot = one.box[:, 1] + one.box[:, 3]
    feet = apply(one.matrix, np.stack([np.zeros(20), foot], axis=1))
    assert np.allclose(feet, [320, 180])
    assert one.box[10, 3] == 300


def test_scale_zero_answers_in_words() -> None:
    """One axis flat: the other is used, and it is said. Both flat: refused."""
    flat = scene(layer(scale=[0, 100]))
    outcome = done(flat, {"edit": "move_anchor", "layer": "plate", "frame": 0, "to": {"scene": [500, 200]}})
    assert outcome.notices == ("Scale x is 0 at frame 0, so the anchor was moved along y only.",)
    assert outcome.scene.layers[0].anchor.rest == (0.5, 0.7)
    with pytest.raises(Refused, match="scale 0 on both axes"):
        done(scene(layer(scale=[0, 0])), {"edit": "move_anchor", "layer": "plate", "frame": 0, "to": {"scene": [1, 2]}})


def test_setting_writes_a_key_where_keyed_and_keeps_the_other_axis() -> None:
    made = scene(layer(scale=GROW))
    after = done(
        made, {"edit": "set_property", "layer": "plate", "property": "scale", "frame": 6, "value": [None, 80]}
    ).scene
    assert [(key.frame, key.value) for key in after.layers[0].scale.keys] == [
        (0, (0, 100)),
        (6, (50, 80)),
        (12, (100, 100)),
    ]
    rested = done(
        made, {"edit": "set_property", "layer": "plate", "property": "position", "frame": 6, "value": [5, None]}
    ).scene
    assert (rested.layers[0].position.rest, rested.layers[0].position.keys) == ((5, 180), ())


def test_keying_starts_and_stops_where_the_picture_is() -> None:
    made = scene(layer(rotation=TURN))
    stopped = done(made, {"edit": "stop_keying", "layer": "plate", "property": "rotation", "frame": 10})
    assert stopped.notices == ("Removed 2 keys of rotation.",)
    assert np.allclose(corners(stopped.scene, 10), corners(made, 10))
    started = done(stopped.scene, {"edit": "start_keying", "layer": "plate", "property": "rotation", "frame": 44}).scene
    assert np.allclose(corners(started, 3), corners(made, 10))


def test_spans_carry_or_keep_their_keys() -> None:
    made = scene(layer(rotation=TURN, span={"start": 10, "length": 40}))
    moved = done(made, {"edit": "move_span", "layer": "plate", "start": 13}).scene
    assert np.allclose(corners(moved, 23), corners(made, 20))
    trimmed = done(made, {"edit": "trim_span", "layer": "plate", "start": 16, "length": 20}).scene
    assert np.allclose(corners(trimmed, 20), corners(made, 20))
    assert trimmed.layers[0].rotation.keys[0].frame == -6
    assert resolve(trimmed, [15, 16, 35, 36], NO_MEDIA).layers["plate"].visible.tolist() == [False, True, True, False]


def test_a_change_of_rate_keeps_times() -> None:
    made = scene(layer(rotation=TURN, span={"start": 10, "length": 40}))
    after = done(made, {"edit": "set_scene", "frame_rate": [24, 1]}).scene
    assert after.length == 48
    for frame in (10, 15, 25, 30):
        assert np.allclose(corners(after, frame * 0.8), corners(made, frame), atol=1e-9)


def test_unchanged_layers_stay_the_same_objects() -> None:
    made = scene(layer("A"), layer("B"))
    outcome = done(made, {"edit": "rename_layer", "layer": "a", "name": "C"})
    assert outcome.scene.layers[1] is made.layers[1]
    assert outcome.changed == ("a",)


@pytest.mark.parametrize(
    ("edit", "told"),
    [
        ({"edit": "rename_layer", "layer": "ghost", "name": "x"}, "may have been deleted in another window"),
        ({"edit": "start_keying", "layer": "plate", "property": "scale", "frame": 60}, "outside the span of 'Plate'"),
        ({"edit": "set_property", "layer": "plate", "property": "position", "frame": 0, "value": 4}, "takes a pair"),
        ({"edit": "set_property", "layer": "plate", "property": "wobble", "frame": 0, "value": 4}, "It has anchor"),
        (
            {"edit": "set_property", "layer": "plate", "property": "rotation", "frame": 0, "value": "x"},
            "takes a number",
        ),
        ({"edit": "trim_span", "layer": "plate", "start": 0, "length": 0}, "at least 1 frame"),
        (
            {"edit": "move_keys", "keys": [{"layer": "plate", "property": "rotation", "frame": 3}], "by": 1},
            "has no key at frame 3",
        ),
        (
            {"edit": "move_keys", "keys": [{"layer": "plate", "property": "rotation", "frame": 20}], "by": 90},
            "outside the span",
        ),
        ({"edit": "set_content", "layer": "plate", "path": "items.0.size.rest", "value": "big"}, "size"),
        ({"edit": "set_content", "layer": "plate", "path": "items.7.fill", "value": "#000000"}, "has no part"),
        ({"edit": "add_layer", "content": {"kind": "picture", "asset": "gone"}}, "not among the project's media"),
        (
            {"edit": "move_anchor", "layer": "plate", "frame": 0, "to": {"station": "north"}},
            "There is no station 'north'",
        ),
    ],
)
def test_what_cannot_be_done_is_refused(edit: dict[str, Any], told: str) -> None:
    with pytest.raises(Refused) as refusal:
        done(scene(layer(rotation=TURN)), edit)
    assert told in str(refusal.value)


def test_a_locked_layer_is_left_alone() -> None:
    with pytest.raises(Refused, match="'Plate' is locked"):
        done(scene(layer(locked=True)), {"edit": "move_layers", "layers": ["plate"], "frame": 0, "by": [1, 1]})


def test_moved_keys_replace_what_they_land_on_and_say_so() -> None:
    made = scene(layer(rotation=TURN))
    ref = {"layer": "plate", "property": "rotation", "frame": 0}
    outcome = done(made, {"edit": "move_keys", "keys": [ref], "by": 20})
    assert outcome.notices == ("One key was replaced by the one moved onto it.",)
    assert [(key.frame, key.value) for key in outcome.scene.layers[0].rotation.keys] == [(20, 0)]


def test_layers_are_added_copied_and_reordered() -> None:
    content = {"kind": "shape", "items": [{"shape": "ellipse", "size": [10, 10], "fill": "#ffffff"}]}
    made = done(
        scene(layer()), {"edit": "add_layer", "content": content}, {"edit": "duplicate_layers", "layers": ["plate"]}
    ).scene
    assert [one.name for one in made.layers] == ["Plate", "Plate 2", "Ellipse"]
    assert made.layers[2].position.rest == (320, 180)
    back = done(made, {"edit": "reorder_layer", "layer": made.layers[2].id, "to": 0}).scene
    assert [one.name for one in back.layers] == ["Ellipse", "Plate", "Plate 2"]


def test_a_change_in_a_pose_of_what_is_not_keyed_is_said_and_can_be_keyed_there() -> None:
    """On a pose only, of what moves only; keyed in the pose, every other pose is as it was before the change."""
    turn = {"rest": 0, "keys": [{"frame": frame, "value": frame} for frame in (0, 20, 40)]}
    made = scene(layer(rotation=turn, scale=[80, 80], span={"start": 5, "length": 55}))

    def scaled(frame: float, **edit: Any) -> Outcome:
        value = {"edit": "set_property", "layer": "plate", "property": "scale", "value": [150, 120], "frame": frame}
        return done(made, {**value, **edit})

    outcome = scaled(25)
    assert outcome.unkeyed == "Scale is not keyed: this changes the whole layer."
    keyed = done(outcome.scene, *[one.model_dump() for one in outcome.keying]).scene.layers[0].scale
    assert [(key.frame, key.value) for key in keyed.keys] == [(0, (80, 80)), (20, (150, 120)), (40, (80, 80))]
    assert not scaled(24).unkeyed
    assert not scaled(25, property="rotation", value=77).unkeyed
    assert not scaled(25, value=[80, 80]).unkeyed
    moved = done(made, {"edit": "move_layers", "layers": ["plate"], "frame": 45, "by": [3, 4]})
    assert moved.unkeyed == "Position is not keyed: this changes the whole layer."
    anchor = {"edit": "move_anchor", "layer": "plate", "frame": 25, "to": {"station": "top left"}}
    assert done(made, anchor).scene.layers[0].position != made.layers[0].position
    assert not done(made, anchor).unkeyed
    both = done(made, {"edit": "drag_handle", "layer": "plate", "frame": 25, "handle": "right", "to": [600, 0]})
    assert both.unkeyed.startswith("Scale is")
    with pytest.raises(Refused, match="keyed already"):
        done(made, {"edit": "key_in_pose", "layer": "plate", "property": "rotation", "frame": 25, "was": 3.0})


@cases(80)
@given(
    frames=st.lists(st.integers(0, 59), min_size=1, max_size=6, unique=True),
    pick=st.integers(0, 5),
    given_value=st.sampled_from(
        [("rotation", 33.0), ("opacity", 40.0), ("scale", [50.0, -70.0]), ("position", [9.0, -8.0])]
    ),
    rate=st.sampled_from([[30, 1], [24, 1], [30000, 1001]]),
)
def test_a_key_in_its_pose_leaves_the_other_poses(
    frames: list[int], pick: int, given_value: tuple[str, Any], rate: list[int]
) -> None:
    """At every other pose the layer is as it was before the change, at this one as it was changed to; after a change
    of rate too, where poses stand between frames."""
    keys = [{"frame": frame, "value": "#112233" if frame % 2 else "#445566"} for frame in sorted(frames)]
    item = {"shape": "ellipse", "size": [90, 60], "fill": {"rest": "#000000", "keys": keys}}
    made = done(
        scene(layer(content={"kind": "shape", "items": [item]})), {"edit": "set_scene", "frame_rate": rate}
    ).scene
    poses = [key.frame for key in made.layers[0].tracks["content.items.0.fill"].keys]
    here = poses[pick % len(poses)]
    name, value = given_value
    set_it = {"edit": "set_property", "layer": "plate", "property": name, "value": value, "frame": here}
    changed = done(made, set_it)
    keyed = done(changed.scene, *[one.model_dump() for one in changed.keying]).scene
    for pose in poses:
        wanted = changed.scene if pose == here else made
        found, right = (resolve(one, [pose], NO_MEDIA).layers["plate"].values[name] for one in (keyed, wanted))
        assert np.allclose(found, right, atol=1e-9)
    assert len(keyed.layers[0].tracks[name].keys) == len(poses)
